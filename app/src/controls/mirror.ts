import { useWindowDimensions, type ViewStyle } from 'react-native';
import { useHand } from '../state/hand';
import { WIDE } from '../theme/tokens';

const reversed: ViewStyle = { flexDirection: 'row-reverse' };

/** Whether rows of the desk are mirrored: on a phone, for the left hand. */
export function useMirrored(): boolean {
  const { width } = useWindowDimensions();
  return useHand(({ hand }) => hand === 'left') && width < WIDE;
}

/** The style of a row of the desk that has one side for the thumb. */
export const useMirror = (): ViewStyle | undefined => (useMirrored() ? reversed : undefined);

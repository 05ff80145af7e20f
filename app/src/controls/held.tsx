import type { ReactNode } from 'react';
import { View, type StyleProp, type ViewStyle } from 'react-native';
import { create } from 'zustand';
import { fades } from '../theme/tokens';

/** The control that a finger holds. While it does, all else steps back so that the photo can be judged. */
export const useHeld = create<{ readonly id: string | undefined }>(() => ({ id: undefined }));

export const hold = (id: string): void => useHeld.setState({ id });
export const letGo = (): void => useHeld.setState({ id: undefined });

/** How much is left of what steps back. */
const FAINT = 0.07;

/** Steps back while a control that is not `mine` is held. A box around the held one must name it, or it would fade with it. */
export function Recede({ mine, style, children }: { mine?: (id: string) => boolean; style?: StyleProp<ViewStyle>; children?: ReactNode }) {
  const away = useHeld(({ id }) => id !== undefined && !mine?.(id));
  return <View style={[fades, style, away && { opacity: FAINT }]}>{children}</View>;
}

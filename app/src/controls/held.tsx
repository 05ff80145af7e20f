import type { ReactNode } from 'react';
import { StyleSheet, Text, View, type StyleProp, type ViewStyle } from 'react-native';
import { useHeld } from '../state/held';
import { colour, fades, radius, type, web } from '../theme/tokens';

const FIGURE_PX = 19;
const LEAST_WIDTH = 92;

/** The figure above the finger. Stands once, over everything, so that nothing can cut it off. */
export function HeldFigure() {
  const figure = useHeld((state) => state.figure);
  if (!figure) return null;
  // The figures are of one width, so that half of the text's is known before it is laid out.
  const half = Math.max(LEAST_WIDTH / 2, (figure.text.length * FIGURE_PX * 0.6) / 2 + 14);
  const x = Math.max(half, Math.min(window.innerWidth - half, figure.x));
  return (
    <View pointerEvents="none" style={[styles.figure, web({ left: x, top: figure.y, transform: 'translate(-50%, -100%)' })]}>
      <Text style={styles.text}>{figure.text}</Text>
    </View>
  );
}

const styles = StyleSheet.create({
  figure: {
    position: 'absolute',
    minWidth: LEAST_WIDTH,
    alignItems: 'center',
    paddingVertical: 5,
    paddingHorizontal: 10,
    borderRadius: radius.m,
    backgroundColor: colour.well,
  },
  text: { ...type.figure, fontSize: FIGURE_PX, color: colour.signalText, ...web({ whiteSpace: 'nowrap' }) },
});

/** How much is left of what steps back. */
const FAINT = 0.07;

/** Steps back while a control that is not `mine` is held. A box around the held one must name it, or it would fade with it. */
export function Recede({ mine, style, children }: { mine?: (id: string) => boolean; style?: StyleProp<ViewStyle>; children?: ReactNode }) {
  const away = useHeld(({ id }) => id !== undefined && !mine?.(id));
  return <View style={[fades, style, away && { opacity: FAINT }]}>{children}</View>;
}

import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, useWindowDimensions, View, type ViewStyle } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { colour, LOW, type, web, WIDE } from '../theme/tokens';
import { IconButton } from './Button';
import { say } from '../words';

interface Props {
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}
/** The control that has the focus, which is the one that was pressed last. */
function pressedLast(): Box | undefined {
  const element = document.activeElement;
  const box = element && element !== document.body ? element.getBoundingClientRect() : undefined;
  return box && box.width > 0 && box.width < LARGEST.width && box.height < LARGEST.height ? box : undefined;
}

/** Below or above a control, where there is more room, and within the screen. */
function beside(box: Box, screen: { readonly width: number; readonly height: number }): ViewStyle {
  const right = Math.max(EDGE, Math.min(screen.width - WIDTH - EDGE, screen.width - box.right));
  const below = screen.height - box.bottom > box.top;
  const room = (below ? screen.height - box.bottom : box.top) - GAP - EDGE;
  return { position: 'absolute', right, ...(below ? { top: box.bottom + GAP } : { bottom: screen.height - box.top + GAP }), maxHeight: room };
}

/**
 * Something that comes up over the screen until it is closed: by its cross, a tap beside it, or Escape. On a phone it stands at the foot, where the thumb is; on a wide
 * screen beside the control that opened it.
 */
export function Sheet({ title, onClose, children }: Props) {
  const panel = useRef<View>(null);
  const { width, height } = useWindowDimensions();
  const [opener] = useState(pressedLast);
  const place = width >= WIDE && opener ? beside(opener, { width, height }) : undefined;
  const close = useRef(onClose);
  close.current = onClose;
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    (panel.current as unknown as HTMLElement | null)?.focus();
    const escape = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || (event.target as HTMLElement | null)?.tagName === 'INPUT') return;
      event.preventDefault();
      close.current();
    };
    window.addEventListener('keydown', escape, { capture: true });
    return () => {
      window.removeEventListener('keydown', escape, { capture: true });
      before?.focus();
    };
  }, []);
  return (
    <View style={[styles.cover, place && styles.light]}>
      <Pressable style={StyleSheet.absoluteFill} onPress={onClose} aria-hidden tabIndex={-1} />
      <View
        ref={panel}
        role="dialog"
        aria-label={title}
        tabIndex={-1}
        style={[styles.panel, height < LOW && styles.high, place && styles.beside, place]}
      >
        <View style={styles.head}>
          <Text style={[type.title, styles.title]} numberOfLines={1}>
            {title}
          </Text>
          <IconButton icon={X} label={say.controls.closeTitle(title)} onPress={onClose} />
        </View>
        <ScrollView contentContainerStyle={styles.list}>{children}</ScrollView>
      </View>
    </View>
  );
}

const WIDTH = 460;
/** What is larger is no button, but a place that was tapped. */
const LARGEST = { width: 400, height: 250 };
const GAP = 6;
const EDGE = 8;

const styles = StyleSheet.create({
  cover: { ...StyleSheet.absoluteFill, backgroundColor: 'rgba(0,0,0,0.45)', justifyContent: 'flex-end', alignItems: 'center' },
  panel: {
    width: '100%',
    maxWidth: WIDTH,
    maxHeight: '75%',
    backgroundColor: colour.desk,
    borderTopLeftRadius: 12,
    borderTopRightRadius: 12,
    paddingBottom: 12,
    ...web({ outlineStyle: 'none' }),
  },
  high: { maxHeight: '96%' },
  // The photo is seen on beside it.
  light: { backgroundColor: 'rgba(0,0,0,0.2)' },
  beside: { borderRadius: 12, borderWidth: 1, borderColor: colour.edge },
  head: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', paddingLeft: 16, paddingRight: 4, paddingTop: 4 },
  title: { flex: 1, minWidth: 0 },
  list: { paddingHorizontal: 16, paddingBottom: 8, gap: 8 },
});

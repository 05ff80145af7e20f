import { useEffect, useRef, type ReactNode } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { colour, type, web } from '../theme/tokens';
import { IconButton } from './Button';

interface Props {
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

/** Something that comes up over the screen, at its foot, until it is closed: by its cross, a tap beside it, or Escape. */
export function Sheet({ title, onClose, children }: Props) {
  const panel = useRef<View>(null);
  const { height } = useWindowDimensions();
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
    <View style={styles.cover}>
      <Pressable style={StyleSheet.absoluteFill} onPress={onClose} aria-hidden tabIndex={-1} />
      <View ref={panel} role="dialog" aria-label={title} tabIndex={-1} style={[styles.panel, height < LOW && styles.high]}>
        <View style={styles.head}>
          <Text style={[type.title, styles.title]} numberOfLines={1}>
            {title}
          </Text>
          <IconButton icon={X} label={`Close ${title}`} onPress={onClose} />
        </View>
        <ScrollView contentContainerStyle={styles.list}>{children}</ScrollView>
      </View>
    </View>
  );
}

/** A phone that lies on its side has no height to spare. */
const LOW = 500;

const styles = StyleSheet.create({
  cover: { ...StyleSheet.absoluteFill, backgroundColor: 'rgba(0,0,0,0.45)', justifyContent: 'flex-end', alignItems: 'center' },
  panel: {
    width: '100%',
    maxWidth: 460,
    maxHeight: '75%',
    backgroundColor: colour.desk,
    borderTopLeftRadius: 12,
    borderTopRightRadius: 12,
    paddingBottom: 12,
    ...web({ outlineStyle: 'none' }),
  },
  high: { maxHeight: '96%' },
  head: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', paddingLeft: 16, paddingRight: 4, paddingTop: 4 },
  title: { flex: 1, minWidth: 0 },
  list: { paddingHorizontal: 16, paddingBottom: 8, gap: 8 },
});

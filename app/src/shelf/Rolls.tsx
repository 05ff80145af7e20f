import { useEffect, useRef, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import type { Roll } from '@bexlen/api';
import { Button } from '../controls/Button';
import { Sheet } from '../controls/Sheet';
import { Words } from '../controls/Words';
import { Entry } from '../controls/Entry';
import { colour, radius, touch, type } from '../theme/tokens';
import { changeRoll, putIntoNewRoll, putIntoRoll, useShelf } from './shelf';
import { say } from '../words';

/** What a drag of photos carries within the page. */
export const CARRIED = 'application/x-bexlen-photos';

/** The rolls of the shelf in a line; photos are dropped on one. */
export function Rolls({ open, onOpen }: { open: string | undefined; onOpen: (id: string | undefined) => void }) {
  const { rolls, photos } = useShelf(useShallow(({ rolls, photos }) => ({ rolls, photos })));
  const [changing, setChanging] = useState<Roll>();
  if (rolls.length === 0) return null;
  return (
    <View style={styles.line}>
      <ScrollView horizontal showsHorizontalScrollIndicator={false}>
        <View role="radiogroup" aria-label={say.shelf.rolls} style={styles.rolls}>
          <Chip
            label={say.shelf.allPhotos}
            count={photos.filter(({ binned }) => !binned).length}
            on={open === undefined}
            onPress={() => onOpen(undefined)}
            onDrop={(ids) => void putIntoRoll(ids, null)}
          />
          {rolls.map((roll) => (
            <Chip
              key={roll.id}
              label={roll.name}
              count={roll.photos}
              on={open === roll.id}
              onPress={() => (open === roll.id ? setChanging(roll) : onOpen(roll.id))}
              onDrop={(ids) => void putIntoRoll(ids, roll.id)}
            />
          ))}
        </View>
      </ScrollView>
      {changing && (
        <Sheet title={changing.name} onClose={() => setChanging(undefined)}>
          <Words
            label={say.shelf.nameOfTheRoll}
            value={changing.name}
            longest={120}
            onKeep={(name) => {
              void changeRoll(changing.id, name);
              setChanging(undefined);
            }}
          />
          <Text style={type.small}>{say.shelf.itsPhotosPhotosStayOnThe(changing.photos)}</Text>
          <Button
            label={say.shelf.takeTheRollAway}
            onPress={() => {
              void changeRoll(changing.id, undefined);
              setChanging(undefined);
              onOpen(undefined);
            }}
          />
        </Sheet>
      )}
    </View>
  );
}

interface ChipProps {
  readonly label: string;
  readonly count: number;
  readonly on: boolean;
  readonly onPress: () => void;
  readonly onDrop: (ids: readonly string[]) => void;
}

function Chip({ label, count, on, onPress, onDrop }: ChipProps) {
  const ref = useRef<View>(null);
  const drop = useRef(onDrop);
  const [over, setOver] = useState(false);
  useEffect(() => {
    drop.current = onDrop;
  });
  useEffect(() => {
    const element = ref.current as unknown as HTMLElement | null;
    if (typeof element?.addEventListener !== 'function') return;
    const carries = (event: DragEvent): boolean => event.dataTransfer?.types.includes(CARRIED) === true;
    const enter = (event: DragEvent): void => {
      if (!carries(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (): void => setOver(false);
    const take = (event: DragEvent): void => {
      setOver(false);
      if (!carries(event)) return;
      event.preventDefault();
      event.stopPropagation();
      drop.current((event.dataTransfer?.getData(CARRIED) ?? '').split(',').filter(Boolean));
    };
    element.addEventListener('dragover', enter);
    element.addEventListener('dragleave', leave);
    element.addEventListener('drop', take);
    return () => {
      element.removeEventListener('dragover', enter);
      element.removeEventListener('dragleave', leave);
      element.removeEventListener('drop', take);
    };
  }, []);
  return (
    <Pressable
      ref={ref}
      role="radio"
      aria-checked={on}
      aria-label={say.shelf.rollLabel(label)}
      onPress={onPress}
      style={[styles.chip, on && styles.on, over && styles.over]}
    >
      <Text style={type.label}>{label}</Text>
      <Text style={[type.figure, styles.count]}>{count}</Text>
    </Pressable>
  );
}

/** Where photos are put into a roll that is there, a new one, or none. */
export function IntoRoll({ ids, onClose }: { ids: readonly string[]; onClose: () => void }) {
  const rolls = useShelf((state) => state.rolls);
  const [name, setName] = useState('');
  const then = (act: Promise<void>): void => {
    void act;
    onClose();
  };
  return (
    <Sheet title={ids.length === 1 ? say.shelf.intoARoll : say.shelf.countPhotosIntoARoll(ids.length)} onClose={onClose}>
      {rolls.map((roll) => (
        <Button key={roll.id} label={roll.name} says={say.shelf.intoName(roll.name)} onPress={() => then(putIntoRoll(ids, roll.id))} />
      ))}
      <View style={styles.row}>
        <View style={styles.grow}>
          <Entry label={say.shelf.nameOfANewRoll} value={name} onChange={setName} />
        </View>
        <Button strong label={say.shelf.newRoll} off={name.trim() === ''} onPress={() => then(putIntoNewRoll(name.trim(), ids))} />
      </View>
      {rolls.length > 0 && <Button label={say.shelf.outOfAnyRoll} onPress={() => then(putIntoRoll(ids, null))} />}
    </Sheet>
  );
}

const styles = StyleSheet.create({
  line: { paddingHorizontal: 12, paddingBottom: 6 },
  rolls: { flexDirection: 'row', gap: 6 },
  chip: {
    minHeight: touch,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingHorizontal: 12,
    borderRadius: radius.m,
    backgroundColor: colour.desk,
    borderBottomWidth: 2,
    borderBottomColor: 'transparent',
  },
  on: { backgroundColor: colour.raised, borderBottomColor: colour.signal },
  over: { backgroundColor: colour.edge },
  count: { color: colour.quiet },
  row: { flexDirection: 'row', gap: 8 },
  grow: { flex: 1, minWidth: 0 },
});

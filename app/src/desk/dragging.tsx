import {
  DndContext,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
} from '@dnd-kit/core';
import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { create } from 'zustand';
import { find, type Layer } from '@bexlen/core';
import GripVertical from 'lucide-react-native/icons/grip-vertical';
import { saysFirst } from '../controls/first';
import { inForce, useBench } from '../state/bench';
import { colour, touch, web } from '../theme/tokens';
import { groupOnto, moveByKey, moveTo } from '../edits/layers';
import { say } from '../words';

type Zone = 'before' | 'onto' | 'after';

/** Where a carried layer would land. */
export const useLanding = create<{ readonly carried: string | undefined; readonly over: string | undefined; readonly zone: Zone }>(() => ({
  carried: undefined,
  over: undefined,
  zone: 'after',
}));

/** The outer quarters of a row put a layer beside it, the middle makes a group. */
const BESIDE = 0.28;

function landing({ active, over, activatorEvent, delta }: DragMoveEvent | DragEndEvent, across: boolean): { over: string; zone: Zone } | undefined {
  if (!over || over.id === active.id) return undefined;
  const start = activatorEvent as PointerEvent;
  const share = across ? (start.clientX + delta.x - over.rect.left) / over.rect.width : (start.clientY + delta.y - over.rect.top) / over.rect.height;
  return { over: String(over.id), zone: share < BESIDE ? 'before' : share > 1 - BESIDE ? 'after' : 'onto' };
}

/** Lets channels be carried by their grips: among the others, or onto one to group them. */
export function Dragging({ across, children }: { across: boolean; children: ReactNode }) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const end = (): void => useLanding.setState({ carried: undefined, over: undefined });
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      accessibility={{ restoreFocus: false }}
      onDragStart={({ active }) => useLanding.setState({ carried: String(active.id), over: undefined })}
      onDragMove={(event) => useLanding.setState(landing(event, across) ?? { over: undefined })}
      onDragCancel={end}
      onDragEnd={(event) => {
        end();
        const to = landing(event, across);
        const { layers } = inForce(useBench.getState().history);
        const [layer, onto] = [find(layers, String(event.active.id)), to && find(layers, to.over)];
        if (!layer || !to || !onto) return;
        // After the touch itself has ended: it must not lose its row while it is still being told about.
        setTimeout(() => {
          if (to.zone === 'onto') groupOnto(layer, onto);
          else moveTo(layer, to.zone === 'before' ? { before: onto.id } : { after: onto.id });
        }, 40);
      }}
    >
      {children}
    </DndContext>
  );
}

/** A place where a carried layer can land, with a mark where it would. */
export function Landing({ id, across, children }: { id: string; across: boolean; children: ReactNode }) {
  const { setNodeRef } = useDroppable({ id });
  const zone = useLanding((state) => (state.over === id ? state.zone : undefined));
  const carried = useLanding((state) => state.carried === id);
  const edge = across ? { before: styles.left, after: styles.right } : { before: styles.top, after: styles.bottom };
  return (
    <View ref={setNodeRef as never} style={carried && styles.carried}>
      {children}
      {zone === 'onto' && <View pointerEvents="none" style={styles.onto} />}
      {(zone === 'before' || zone === 'after') && <View pointerEvents="none" style={[styles.line, edge[zone]]} />}
    </View>
  );
}

const KEYS: Record<'across' | 'down', Record<string, string>> = {
  across: { ArrowLeft: 'earlier', ArrowRight: 'later', ArrowUp: 'in', ArrowDown: 'out' },
  down: { ArrowUp: 'earlier', ArrowDown: 'later', ArrowRight: 'in', ArrowLeft: 'out' },
};

/** What a channel is carried by. On the keyboard, arrows move it and put it in and out of groups. */
export function Grip({ layer, across }: { layer: Layer; across: boolean }) {
  const { setNodeRef, listeners } = useDraggable({ id: layer.id });
  const keys = KEYS[across ? 'across' : 'down'];
  const how = across ? say.desk.leftAndRightMoveItUp : say.desk.upAndDownMoveItRight;
  return (
    <View
      ref={setNodeRef as never}
      tabIndex={0}
      role="button"
      {...saysFirst('grip')}
      aria-label={say.desk.moveNameHow(layer.name, how)}
      style={[styles.grip, web({ touchAction: 'none', cursor: 'grab' })]}
      {...({
        onPointerDown: listeners?.['onPointerDown'],
        onKeyDown: (event: KeyboardEvent) => {
          const key = keys[event.key];
          if (!key) return;
          event.preventDefault();
          moveByKey(layer, key);
        },
      } as object)}
    >
      <GripVertical size={18} color={colour.quiet} strokeWidth={1.4} />
    </View>
  );
}

const styles = StyleSheet.create({
  grip: { width: 28, minHeight: touch, alignItems: 'center', justifyContent: 'center' },
  carried: { opacity: 0.4 },
  onto: { ...StyleSheet.absoluteFill, borderWidth: 2, borderColor: colour.signal, borderRadius: 4 },
  line: { position: 'absolute', backgroundColor: colour.signal },
  top: { top: -1, left: 0, right: 0, height: 3 },
  bottom: { bottom: -1, left: 0, right: 0, height: 3 },
  left: { left: -1, top: 0, bottom: 0, width: 3 },
  right: { right: -1, top: 0, bottom: 0, width: 3 },
});

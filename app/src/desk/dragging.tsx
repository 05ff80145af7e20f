import { DndContext, PointerSensor, useDraggable, useSensor, useSensors, type DragStartEvent, type PointerSensorProps } from '@dnd-kit/core';
import type { ReactNode } from 'react';
import { flushSync } from 'react-dom';
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

/** A carry that has begun is known at once: one that is over before the page draws again would be lost otherwise. */
class PromptSensor extends PointerSensor {
  constructor(props: PointerSensorProps) {
    super({ ...props, onStart: (at) => flushSync(() => props.onStart(at)) });
  }
}

/** Where the finger that carries is, however far behind the page is with drawing. */
let finger = { x: 0, y: 0 };
const follow = ({ clientX, clientY }: PointerEvent): void => void (finger = { x: clientX, y: clientY });
const FOLLOWED = ['pointermove', 'pointerup'] as const;

const ROW = 'data-landing';
/** Rows are found by the finger itself. */
const nowhere = (): [] => [];

/** The row under the finger, and what part of it. */
function landing(carried: string, across: boolean): { over: string; zone: Zone } | undefined {
  const row = document
    .elementsFromPoint(finger.x, finger.y)
    .map((element) => element.closest(`[${ROW}]`))
    .find((each) => each !== null);
  const over = row?.getAttribute(ROW);
  if (!row || !over || over === carried) return undefined;
  const { left, top, width, height } = row.getBoundingClientRect();
  const share = across ? (finger.x - left) / width : (finger.y - top) / height;
  return { over, zone: share < BESIDE ? 'before' : share > 1 - BESIDE ? 'after' : 'onto' };
}

/** Lets channels be carried by their grips: among the others, or onto one to group them. */
export function Dragging({ across, children }: { across: boolean; children: ReactNode }) {
  const sensors = useSensors(useSensor(PromptSensor, { activationConstraint: { distance: 4 } }));
  const begin = ({ active, activatorEvent }: DragStartEvent): void => {
    follow(activatorEvent as PointerEvent);
    for (const type of FOLLOWED) window.addEventListener(type, follow, { capture: true });
    useLanding.setState({ carried: String(active.id), over: undefined });
  };
  const end = (): void => {
    for (const type of FOLLOWED) window.removeEventListener(type, follow, { capture: true });
    useLanding.setState({ carried: undefined, over: undefined });
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={nowhere}
      accessibility={{ restoreFocus: false }}
      onDragStart={begin}
      onDragMove={({ active }) => useLanding.setState(landing(String(active.id), across) ?? { over: undefined })}
      onDragCancel={end}
      onDragEnd={({ active }) => {
        end();
        const to = landing(String(active.id), across);
        const { layers } = inForce(useBench.getState().history);
        const [layer, onto] = [find(layers, String(active.id)), to && find(layers, to.over)];
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
  const zone = useLanding((state) => (state.over === id ? state.zone : undefined));
  const carried = useLanding((state) => state.carried === id);
  const edge = across ? { before: styles.left, after: styles.right } : { before: styles.top, after: styles.bottom };
  return (
    <View {...({ dataSet: { landing: id } } as object)} style={carried && styles.carried}>
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

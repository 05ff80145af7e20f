import { useEffect, useState, type ReactNode } from 'react';
import { ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { find, type Layer } from '@bexlen/core';
import Book from 'lucide-react-native/icons/book-open';
import Bulb from 'lucide-react-native/icons/lightbulb';
import CropIcon from 'lucide-react-native/icons/crop';
import Below from 'lucide-react-native/icons/panel-bottom';
import Aside from 'lucide-react-native/icons/panel-right';
import HandIcon from 'lucide-react-native/icons/hand';
import Lesson from 'lucide-react-native/icons/graduation-cap';
import Plus from 'lucide-react-native/icons/plus';
import X from 'lucide-react-native/icons/x';
import { Button, IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { usePointer } from '../controls/usePointer';
import { useBench } from '../state/bench';
import { changeHand } from '../state/hand';
import { changeHeight, DESK_HEIGHTS, moveDesk, nextHeight, useLayout, type DeskHeight } from '../state/layout';
import { colour, type, web, WIDE } from '../theme/tokens';
import { deskRows } from '../edits/layers';
import { ChannelRow, ChannelStrip } from './Channel';
import { Dragging } from './dragging';
import { Master } from './Master';
import { useMirror, useMirrored } from '../controls/mirror';
import { OpenChannel } from '../channel/OpenChannel';
import { Rack } from './Rack';
import { say } from '../words';

type Height = DeskHeight;
const HEIGHTS = DESK_HEIGHTS;
/** Pixels of the wide desk: with its low one a landscape photo takes more than half of the window. */
const WIDE_HEIGHTS: Record<Height, number> = { low: 104, half: 224, full: 300 };
const SHARES: Record<Height, number> = { low: 0.2, half: 0.5, full: 0.62 };
/** The most of the phone's desk while a lesson stands above it. */
const UNDER_LESSON = 0.36;

const useOpenLayer = (): Layer | undefined => useBench((state) => (state.open === undefined ? undefined : find(state.stack().layers, state.open)));
const useRows = () => deskRows(useBench((state) => state.stack()));

/** What comes before the first layer. */
interface Before {
  readonly onFrame: () => void;
  /** Of a raw file. */
  readonly onDevelop: (() => void) | undefined;
  readonly onLooks: () => void;
  readonly onLessons: () => void;
}

/** The phone's desk: a sheet of three heights with the channels as rows, the opened channel, or the rack; the output at its foot. */
export function PhoneDesk({ room, tools, underLesson = false, ...before }: { room: number; tools: ReactNode; underLesson?: boolean } & Before) {
  const [height, setHeight] = useState<Height>('half');
  const open = useOpenLayer();
  const to = (step: number): void => setHeight((now) => HEIGHTS[Math.min(2, Math.max(0, HEIGHTS.indexOf(now) + step))] ?? 'half');
  const closed = open === undefined;
  const share = underLesson ? Math.min(SHARES[height], UNDER_LESSON) : SHARES[height];
  useEffect(() => {
    if (closed) setHeight((now) => (now === 'full' ? 'half' : now));
  }, [closed]);
  return (
    <>
      {tools}
      <View style={[styles.sheet, { height: Math.round(room * share) }]}>
        <HeightHandle height={height} onStep={to} onTap={() => setHeight((now) => (now === 'half' ? 'full' : 'half'))} />
        <Sheet {...before} onAdded={() => setHeight('full')} />
      </View>
    </>
  );
}

interface HandleProps {
  readonly height: Height;
  /** It lies over the edge of the desk, and takes no room of its own. */
  readonly over?: boolean;
  readonly onStep: (steps: number) => void;
  readonly onTap: () => void;
}

/** Draws the desk up and down, by hand and by keys. */
function HeightHandle({ height, over = false, onStep, onTap }: HandleProps) {
  const ref = usePointer({
    up: ({ dy }, moved) => (moved ? onStep(dy < 0 ? 1 : -1) : onTap()),
    key: ({ key }) => {
      if (key === 'ArrowUp') onStep(1);
      if (key === 'ArrowDown') onStep(-1);
    },
  });
  return (
    <View
      ref={ref}
      role="slider"
      aria-label={say.desk.heightOfTheDesk}
      aria-valuenow={HEIGHTS.indexOf(height)}
      aria-valuetext={height}
      tabIndex={0}
      style={[over ? styles.wideHandle : styles.handle, web({ touchAction: 'none', cursor: 'ns-resize' })]}
    >
      <Recede style={styles.bar} />
    </View>
  );
}

/** What a desk of rows holds: the channels, the opened one or the rack; the output at its foot. */
function Sheet({ onFrame, onDevelop, onLooks, onLessons, onAdded }: Before & { onAdded?: () => void }) {
  const [rack, setRack] = useState(false);
  const open = useOpenLayer();
  const rows = useRows();
  const mirror = useMirror();
  const empty = rows.length === 0;
  const body = rack || empty ? 'rack' : open ? 'open' : 'rows';
  return (
    <>
      <View style={styles.body}>
        {body === 'rack' && (
          <>
            {empty && (
              <Recede style={styles.photoRow}>
                <Text style={[type.label, styles.photoWord]}>{say.desk.chooseAFirstLayer}</Text>
                <IconButton icon={Lesson} label={say.desk.lessons} onPress={onLessons} />
                <Button icon={Book} label={say.desk.looks} onPress={onLooks} />
                {onDevelop && <IconButton icon={Bulb} label={say.desk.development} onPress={onDevelop} />}
                <Button icon={CropIcon} label={say.desk.crop} onPress={onFrame} />
              </Recede>
            )}
            <Rack onAdded={() => (setRack(false), onAdded?.())} />
          </>
        )}
        {body === 'open' && open && <OpenChannel key={open.id} layer={open} />}
        {body === 'rows' && (
          <Dragging across={false}>
            <ScrollView>
              <Recede style={[styles.photoRow, mirror]}>
                <Text style={[type.label, styles.photoWord, mirror && styles.toTheRight]}>{say.desk.photo}</Text>
                <OtherPlace />
                <Button icon={Book} label={say.desk.looks} onPress={onLooks} />
                {onDevelop && <IconButton icon={Bulb} label={say.desk.development} onPress={onDevelop} />}
                <Button icon={CropIcon} label={say.desk.crop} onPress={onFrame} />
              </Recede>
              {rows.map(({ layer, depth }) => (
                <ChannelRow key={layer.id} layer={layer} depth={depth} />
              ))}
            </ScrollView>
          </Dragging>
        )}
      </View>
      <View style={[styles.foot, mirror, mirror && styles.footMirrored]}>
        <Master upright={false} />
        {!empty && (
          <Recede>
            <IconButton icon={rack ? X : Plus} label={rack ? say.desk.closeTheRack : say.desk.addALayer} onPress={() => setRack(!rack)} />
          </Recede>
        )}
      </View>
    </>
  );
}

/** The desk beside an upright photo on a wide screen. */
export function SideDesk(before: Before) {
  return (
    <View style={styles.aside}>
      <Sheet {...before} />
    </View>
  );
}

/** For the other hand on a phone, for the other place on a wide screen. */
function OtherPlace() {
  const wide = useWindowDimensions().width >= WIDE;
  return wide ? <IconButton icon={Below} label={say.desk.deskBelowThePhoto} onPress={moveDesk} /> : <HandButton />;
}

/** Mirrors the desk for the other hand. */
function HandButton() {
  const left = useMirrored();
  return (
    <View style={left && styles.otherWay}>
      <IconButton icon={HandIcon} label={left ? say.desk.deskForTheRightHand : say.desk.deskForTheLeftHand} onPress={changeHand} />
    </View>
  );
}

/** The wide desk: strips from the photo on the left to the master on the right. Drawn up by its upper edge, it has three heights. */
export function WideDesk({ onRack, onFrame, onDevelop, onLooks, onLessons }: Before & { onRack: () => void }) {
  const rows = useRows();
  const photo = useBench((state) => state.photo);
  const { height } = useLayout(useShallow(({ height }) => ({ height })));
  const low = height === 'low';
  return (
    <View style={[styles.wide, { height: WIDE_HEIGHTS[height] }]}>
      <HeightHandle over height={height} onStep={changeHeight} onTap={nextHeight} />
      <Recede style={[styles.photoStrip, low && styles.photoStripLow]}>
        <Text style={type.title}>{say.desk.photo}</Text>
        {!low && (
          <Text style={[type.small, styles.centred]} numberOfLines={2}>
            {photo?.name ?? ''}
          </Text>
        )}
        <View style={styles.photoButtons}>
          {onDevelop && <IconButton icon={Bulb} label={say.desk.development} onPress={onDevelop} />}
          <IconButton icon={CropIcon} label={say.desk.crop} onPress={onFrame} />
          <IconButton icon={Book} label={say.desk.looks} onPress={onLooks} />
          {rows.length === 0 && <IconButton icon={Lesson} label={say.desk.lessons} onPress={onLessons} />}
          {photo && photo.height > photo.width && <IconButton icon={Aside} label={say.desk.deskBesideThePhoto} onPress={moveDesk} />}
        </View>
      </Recede>
      <View style={styles.strips}>
        <Dragging across>
          <ScrollView horizontal contentContainerStyle={styles.stripRow}>
            {rows.map(({ layer, depth }) => (
              <ChannelStrip key={layer.id} layer={layer} depth={depth} height={height} />
            ))}
            <Recede style={styles.addStrip}>
              <Button icon={Plus} label={rows.length === 0 ? say.desk.chooseAFirstLayer : say.desk.addALayer} onPress={onRack} />
            </Recede>
          </ScrollView>
        </Dragging>
      </View>
      <Master upright low={low} />
    </View>
  );
}

/** The panel beside the photo on a wide screen: the opened channel, or the rack. */
export function WidePanel({ rack, onRackDone }: { rack: boolean; onRackDone: () => void }) {
  const open = useOpenLayer();
  if (!rack && !open) return null;
  return (
    <View style={styles.panel}>
      {rack || !open ? (
        <>
          <Recede style={styles.rackHead}>
            <Text style={type.title}>{say.desk.rack}</Text>
            <IconButton icon={X} label={say.desk.closeTheRack} onPress={onRackDone} />
          </Recede>
          <Rack onAdded={onRackDone} />
        </>
      ) : (
        <OpenChannel key={open.id} layer={open} />
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  sheet: { backgroundColor: colour.desk, borderTopLeftRadius: 10, borderTopRightRadius: 10, overflow: 'hidden' },
  handle: { height: 24, alignItems: 'center', justifyContent: 'center' },
  bar: { width: 44, height: 4, borderRadius: 2, backgroundColor: colour.edge },
  body: { flex: 1, minHeight: 0 },
  photoRow: { flexDirection: 'row', alignItems: 'center', paddingHorizontal: 8, gap: 4 },
  photoWord: { flex: 1, paddingHorizontal: 8 },
  toTheRight: { textAlign: 'right' },
  otherWay: { transform: [{ scaleX: -1 }] },
  foot: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 4,
    paddingLeft: 14,
    paddingRight: 6,
    minHeight: 60,
    borderTopWidth: 1,
    borderTopColor: colour.well,
    backgroundColor: colour.desk,
  },
  footMirrored: { paddingLeft: 6, paddingRight: 14 },
  wide: { flexDirection: 'row', backgroundColor: colour.desk, borderTopWidth: 1, borderTopColor: colour.well },
  photoStrip: { minWidth: 92, alignItems: 'center', justifyContent: 'flex-end', padding: 10, borderRightWidth: 1, borderRightColor: colour.well },
  centred: { textAlign: 'center' },
  strips: { flex: 1, minWidth: 0 },
  stripRow: { height: '100%' },
  wideHandle: { position: 'absolute', top: -12, left: 0, right: 0, height: 24, zIndex: 3, alignItems: 'center', justifyContent: 'center' },
  photoStripLow: { justifyContent: 'center', gap: 2, padding: 4 },
  photoButtons: { flexDirection: 'row' },
  aside: { flex: 1, minHeight: 0 },
  addStrip: { justifyContent: 'center', paddingHorizontal: 16 },
  panel: { width: 372, backgroundColor: colour.desk, borderLeftWidth: 1, borderLeftColor: colour.well, paddingTop: 4 },
  rackHead: { flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center', paddingLeft: 14, paddingRight: 4 },
});

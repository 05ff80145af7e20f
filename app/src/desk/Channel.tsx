import { useEffect, useRef, type RefObject } from 'react';
import { StyleSheet, View } from 'react-native';
import { channelParams, type Layer } from '@bexlen/core';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { SoloButton, Switch } from '../controls/Switch';
import { Tape } from '../controls/Tape';
import { Recede } from '../controls/held';
import { openChannel, toggleSolo, useBench } from '../state/bench';
import type { DeskHeight } from '../state/layout';
import { strengthTarget } from '../edits/target';
import { familyOf } from '../state/words';
import { colour } from '../theme/tokens';
import { MaskThumb } from '../channel/MaskThumb';
import * as desk from '../edits/layers';
import { Grip, Landing } from './dragging';
import { useMirror } from '../controls/mirror';
import { say } from '../words';

interface Props {
  readonly layer: Layer;
  readonly depth: number;
}

function useChannel(layer: Layer) {
  const open = useBench((state) => state.open === layer.id);
  const solo = useBench((state) => state.solo.has(layer.id));
  const strength = strengthTarget(layer, 'desk');
  const id = strength.idOf('strength');
  return {
    id,
    open,
    mine: (held: string) => held === id,
    tape: (
      <Tape
        name={layer.name}
        open={open}
        dim={!layer.on}
        onPress={() => openChannel(open ? undefined : layer.id)}
        onRename={(name) => desk.rename(layer, name)}
      />
    ),
    figure: (
      <Figure
        label={say.desk.strengthOfName(layer.name)}
        param={channelParams.strength}
        value={layer.strength}
        edge={1}
        onKeep={(value) => strength.keep({ strength: value })}
      />
    ),
    fader: (upright: boolean) => (
      <Fader
        id={id}
        label={say.desk.strengthOfName(layer.name)}
        param={channelParams.strength}
        value={layer.strength}
        edge={1}
        family={familyOf(layer)}
        upright={upright}
        onShow={(value) => strength.show({ strength: value })}
        onKeep={(value) => strength.keep({ strength: value })}
      />
    ),
    solo: <SoloButton name={layer.name} on={solo} onToggle={() => toggleSolo(layer.id)} />,
    switch: <Switch ofLayer label={say.desk.nameOn(layer.name)} on={layer.on} onToggle={() => desk.toggle(layer)} />,
  };
}

/** A channel as a row of the phone's desk: tape and figure over a long fader. Groups bracket what stands in them. */
export function ChannelRow({ layer, depth }: Props) {
  const channel = useChannel(layer);
  const mirror = useMirror();
  return (
    <Landing id={layer.id} across={false}>
      <View style={[styles.row, mirror, channel.open && styles.openRow]}>
        {Array.from({ length: depth }, (_, i) => (
          <Recede key={i} style={[styles.bracket, mirror && styles.bracketMirrored]} />
        ))}
        <Recede style={styles.grip}>
          <Grip layer={layer} across={false} />
        </Recede>
        <View style={styles.middle}>
          <Recede style={styles.labels}>
            {channel.tape}
            <View style={styles.figures}>
              <MaskThumb layer={layer} />
              {channel.figure}
            </View>
          </Recede>
          <Recede mine={channel.mine} style={styles.faderRow}>
            {channel.fader(false)}
          </Recede>
        </View>
        <Recede style={[styles.buttons, mirror]}>
          {channel.solo}
          {channel.switch}
        </Recede>
      </View>
    </Landing>
  );
}

/** Brings what is opened into sight where it stands beyond the edge of the desk. */
function useInSight(open: boolean): RefObject<View | null> {
  const ref = useRef<View>(null);
  useEffect(() => {
    // On the page a view is an element.
    if (open) (ref.current as unknown as Partial<Pick<Element, 'scrollIntoView'>> | null)?.scrollIntoView?.({ block: 'nearest', inline: 'nearest' });
  }, [open]);
  return ref;
}

/** A channel as a strip of the wide desk: fader upright, tape at the foot; where the desk is low, a tape with its switch over a slim fader. */
export function ChannelStrip({ layer, depth, height }: Props & { readonly height: DeskHeight }) {
  const channel = useChannel(layer);
  const strip = useInSight(channel.open);
  if (height === 'low')
    return (
      <Landing id={layer.id} across>
        <View ref={strip} style={[styles.strip, styles.lowStrip, channel.open && styles.openRow]}>
          <Recede style={styles.stripHead}>
            {Array.from({ length: depth }, (_, i) => (
              <View key={i} style={styles.bracketAcross} />
            ))}
          </Recede>
          <Recede style={styles.lowTop}>
            <Grip layer={layer} across />
            <View style={styles.lowTape}>{channel.tape}</View>
            <MaskThumb layer={layer} />
            {channel.switch}
          </Recede>
          <View style={styles.lowFoot}>
            <Recede mine={channel.mine} style={styles.lowFader}>
              {channel.fader(false)}
            </Recede>
            <Recede>{channel.figure}</Recede>
          </View>
        </View>
      </Landing>
    );
  return (
    <Landing id={layer.id} across>
      <View ref={strip} style={[styles.strip, channel.open && styles.openRow]}>
        <Recede style={styles.stripHead}>
          {Array.from({ length: depth }, (_, i) => (
            <View key={i} style={styles.bracketAcross} />
          ))}
        </Recede>
        <Recede style={styles.stripTop}>
          <Grip layer={layer} across />
          {channel.switch}
        </Recede>
        <Recede mine={channel.mine} style={styles.stripFader}>
          {channel.fader(true)}
        </Recede>
        <Recede style={styles.stripFoot}>
          {height === 'full' && channel.solo}
          <MaskThumb layer={layer} />
          {channel.figure}
          {channel.tape}
        </Recede>
      </View>
    </Landing>
  );
}

const styles = StyleSheet.create({
  row: {
    flexDirection: 'row',
    alignItems: 'stretch',
    paddingLeft: 4,
    paddingRight: 4,
    minHeight: 84,
    borderBottomWidth: 1,
    borderBottomColor: '#242424',
  },
  openRow: { backgroundColor: '#393939' },
  bracket: { width: 9, borderLeftWidth: 3, borderLeftColor: colour.tape, marginLeft: 7 },
  bracketMirrored: { borderLeftWidth: 0, marginLeft: 0, borderRightWidth: 3, borderRightColor: colour.tape, marginRight: 7 },
  grip: { justifyContent: 'center' },
  middle: { flex: 1, justifyContent: 'center' },
  // With large text the figures stand below the tape.
  labels: { flexDirection: 'row', flexWrap: 'wrap', justifyContent: 'space-between', alignItems: 'center', paddingTop: 6, rowGap: 2 },
  figures: { flexDirection: 'row', alignItems: 'center', gap: 6, flexGrow: 1, justifyContent: 'flex-end' },
  faderRow: { flexDirection: 'row' },
  buttons: { justifyContent: 'center', alignItems: 'center', flexDirection: 'row', paddingLeft: 4 },
  strip: { width: 96, height: '100%', alignItems: 'center', borderRightWidth: 1, borderRightColor: '#242424', paddingBottom: 8 },
  lowStrip: { width: 196, alignItems: 'stretch', paddingBottom: 0 },
  lowTop: { flexDirection: 'row', alignItems: 'center' },
  lowTape: { flex: 1, minWidth: 0, alignItems: 'flex-start', overflow: 'hidden', marginRight: 6 },
  lowFoot: { flexDirection: 'row', alignItems: 'center', paddingLeft: 8, marginTop: -4 },
  lowFader: { flex: 1, flexDirection: 'row' },
  stripHead: { height: 10, alignSelf: 'stretch', gap: 2 },
  bracketAcross: { height: 3, backgroundColor: colour.tape },
  stripTop: { flexDirection: 'row', alignItems: 'center' },
  stripFader: { flex: 1, alignItems: 'center' },
  stripFoot: { alignItems: 'center', gap: 2, paddingHorizontal: 4, maxWidth: 96 },
});

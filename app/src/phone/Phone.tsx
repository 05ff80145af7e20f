import { useEffect, useState } from 'react';
import { StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import Svg, { Path, Rect } from 'react-native-svg';
import { LONGEST_NAME, type Device, type PairingCode, type PhoneState } from '@bexlen/api';
import { Button } from '../controls/Button';
import { Switch } from '../controls/Switch';
import { Sheet } from '../controls/Sheet';
import { Words } from '../controls/Words';
import { hear } from '../state/news';
import { sentenceOf, server } from '../state/server';
import { colour, radius, type, web } from '../theme/tokens';
import { locale, say } from '../words';

/** On the machine itself: how a phone comes in, and which ones are in. On a device: what it is called there, and how it leaves. */
export function Phone({ onClose }: { onClose: () => void }) {
  const [me, setMe] = useState<Device | null>();
  const [fault, setFault] = useState('');
  useEffect(() => {
    server.me().then(setMe, (error: unknown) => setFault(sentenceOf(error)));
  }, []);
  return (
    <Sheet title={me ? say.phone.thisDevice : say.phone.phone} onClose={onClose}>
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      {me === null && <Doors onFault={setFault} />}
      {me && <Me me={me} onFault={setFault} />}
    </Sheet>
  );
}

type OnFault = (sentence: string) => void;

function Me({ me, onFault }: { me: Device; onFault: OnFault }) {
  return (
    <>
      <Text style={type.body}>{say.phone.pairedAsNameSinceDayIts(me.name, dayOf(me.pairedAt))}</Text>
      <Button
        label={say.phone.leaveAndRemoveThePhotosFrom}
        onPress={() => void server.sendAway(me.id).catch((error: unknown) => onFault(sentenceOf(error)))}
      />
    </>
  );
}

function Doors({ onFault }: { onFault: OnFault }) {
  const [state, setState] = useState<PhoneState>();
  useEffect(() => {
    const load = (): void => void server.phone().then(setState, (error: unknown) => onFault(sentenceOf(error)));
    load();
    return hear('devices', load);
  }, [onFault]);
  if (!state) return null;
  const { open, addresses, faults, fingerprints, devices } = state;
  const toggle = (): void => void server.openPhone(!open).then(setState, (error: unknown) => onFault(sentenceOf(error)));
  const sendAway = (id: string): void => void server.sendAway(id).catch((error: unknown) => onFault(sentenceOf(error)));
  const rename = (id: string, name: string): void => void server.renameDevice(id, name).catch((error: unknown) => onFault(sentenceOf(error)));
  return (
    <>
      <View style={styles.open}>
        <Switch label={say.phone.letPhonesIn} on={open} onToggle={toggle} />
        <Text style={[type.body, styles.facts]}>{open ? say.phone.phonesAndTabletsInThisNetwork : say.phone.onlyThisComputerCanOpenBexlen}</Text>
      </View>
      {faults.map((fault) => (
        <Text key={fault} role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      ))}
      {addresses.length > 0 && <Invitation onFault={onFault} others={addresses.slice(1)} />}
      {fingerprints && (
        <View style={styles.prints}>
          <Text style={type.small}>{say.phone.ifThePhonesBrowserWarnsCompare}</Text>
          <Print of={fingerprints.machine} />
          <Text style={type.small}>{say.phone.ofTheAuthorityBehindItWhich}</Text>
          <Print of={fingerprints.authority} />
        </View>
      )}
      {(devices.length > 0 || addresses.length > 0) && (
        <Text role="heading" aria-level={3} style={[type.title, styles.heading]}>
          {say.phone.pairedDevices}
        </Text>
      )}
      {devices.length === 0 && addresses.length > 0 && <Text style={type.body}>{say.phone.noneYet}</Text>}
      {devices.map((device) => (
        <View key={device.id} role="group" aria-label={device.name} style={styles.device}>
          <View style={styles.facts}>
            <Words label={say.phone.deviceName} value={device.name} longest={LONGEST_NAME} onKeep={(name) => rename(device.id, name)} />
            <Text style={type.small}>{say.phone.lastHereDay(dayOf(device.seenAt))}</Text>
          </View>
          <Button label={say.phone.sendAway} says={say.phone.sendNameAway(device.name)} onPress={() => sendAway(device.id)} />
        </View>
      ))}
    </>
  );
}

/** A fingerprint in two lines of sixteen pairs, as they are easily compared. */
function Print({ of }: { of: string }) {
  return (
    <Text selectable style={[type.figure, styles.print]}>
      {`${of.slice(0, 48)}\n${of.slice(48)}`}
    </Text>
  );
}

/** A code to scan, for as long as it is good. */
function Invitation({ onFault, others }: { onFault: OnFault; others: readonly string[] }) {
  const [code, setCode] = useState<PairingCode>();
  const [left, setLeft] = useState(0);
  const make = (): void => void server.newCode().then(setCode, (error: unknown) => onFault(sentenceOf(error)));
  useEffect(() => {
    make();
    // A device that came in has used it up.
    return hear('devices', () => setCode(undefined));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(() => {
    if (!code) return;
    const end = performance.now() + code.goodFor;
    const tick = (): void => setLeft(Math.max(0, Math.ceil((end - performance.now()) / 1000)));
    tick();
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, [code]);
  if (!code || left === 0) return <Button strong label={say.phone.showACodeForAPhone} onPress={make} />;
  return (
    <View style={styles.invitation}>
      <Text style={type.body}>{say.phone.scanThisWithThePhonesCamera}</Text>
      <Squares squares={code.squares} label={say.phone.aCodeToScanLink(code.link)} />
      <Text selectable style={[type.figure, styles.link]}>
        {code.link.split('#')[0]}
      </Text>
      {others.length > 0 && <Text style={type.small}>{say.phone.alsoAtOthers(others.join(', '))}</Text>}
      <Text selectable aria-label={say.phone.code} style={[type.figure, styles.link]}>
        {code.code}
      </Text>
      <Text role="timer" style={type.small}>
        {say.phone.goodOnceForLeftPad(Math.floor(left / 60), String(left % 60).padStart(2, '0'))}
      </Text>
    </View>
  );
}

/** The quiet rim that readers of such codes need, in squares (ISO/IEC 18004). */
const RIM = 4;

function Squares({ squares, label }: { squares: readonly string[]; label: string }) {
  const size = squares.length + 2 * RIM;
  const { height } = useWindowDimensions();
  const side = Math.min(SQUARES, Math.round(height * 0.55));
  const dark = squares.flatMap((row, y) => [...row].flatMap((square, x) => (square === '1' ? [`M${x + RIM} ${y + RIM}h1v1h-1z`] : [])));
  return (
    <View role="img" aria-label={label} style={styles.squares}>
      <Svg width={side} height={side} viewBox={`0 0 ${size} ${size}`}>
        <Rect width={size} height={size} fill="#ffffff" />
        <Path d={dark.join('')} fill="#000000" />
      </Svg>
    </View>
  );
}
const SQUARES = 232;

const dayOf = (when: string): string => new Date(when).toLocaleString(locale, { dateStyle: 'medium', timeStyle: 'short' });

const styles = StyleSheet.create({
  open: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  invitation: { gap: 8, alignItems: 'center' },
  squares: { borderRadius: radius.m, overflow: 'hidden' },
  link: { textAlign: 'center', ...web({ overflowWrap: 'anywhere' }) },
  prints: { gap: 2, paddingVertical: 4 },
  print: { fontSize: 11, lineHeight: 15, color: colour.quiet },
  heading: { fontSize: 16, marginTop: 4 },
  device: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingLeft: 12,
    paddingRight: 6,
    paddingVertical: 6,
    borderRadius: radius.m,
    backgroundColor: colour.well,
  },
  facts: { flex: 1, minWidth: 0 },
});

import { useEffect, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import type { Machine, MachineList } from '@bexlen/api';
import { server } from '../state/server';
import { colour, radius, type } from '../theme/tokens';
import { namesOf, wordsOfHouse, wordsOfMachine } from './house';
import { say } from '../words';

const LOOK_MS = 3000;

/** Which machines make files, where there are several, or the only one fell silent. One that works alone needs no words: the files below say what it does. */
export function Machines() {
  const list = useMachines();
  if (!list || (list.machines.length === 1 && !list.machines[0]?.silent)) return null;
  const names = namesOf(list.machines);
  return (
    <View role="group" aria-label={say.exports.machinesThatMakeFiles} style={styles.house}>
      <Text role="status" style={type.label}>
        {wordsOfHouse(list)}
      </Text>
      {list.machines.map((machine, i) => (
        <Row key={machine.id} machine={machine} name={names[i] ?? machine.name} />
      ))}
    </View>
  );
}

function Row({ machine, name }: { machine: Machine; name: string }) {
  return (
    <View style={styles.row}>
      <Text style={[type.figure, styles.name]} numberOfLines={1}>
        {name}
      </Text>
      <Text style={[type.small, styles.does, { color: machine.silent ? colour.fault : colour.quiet }]}>{wordsOfMachine(machine)}</Text>
    </View>
  );
}

/** The machines, looked at again while the page is in sight. Where the server is away, what was last known is left to stand. */
function useMachines(): MachineList | undefined {
  const [list, setList] = useState<MachineList>();
  useEffect(() => {
    let stopped = false;
    const look = (): void => {
      if (document.hidden) return;
      server.machines().then(
        (now) => !stopped && setList(now),
        () => undefined,
      );
    };
    look();
    const timer = setInterval(look, LOOK_MS);
    return () => {
      stopped = true;
      clearInterval(timer);
    };
  }, []);
  return list;
}

const styles = StyleSheet.create({
  house: { gap: 6, padding: 10, backgroundColor: colour.desk, borderRadius: radius.m },
  row: { flexDirection: 'row', gap: 12, alignItems: 'baseline' },
  name: { fontSize: 12, flexShrink: 0, maxWidth: 120 },
  does: { flex: 1, minWidth: 0 },
});

import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import { correctionsOf, cutsBetween, TABLE_SIZES, tableOf, writeCc, writeCcc } from '@bexlen/core';
import { Button, Choice } from '../controls/Button';
import { Tick } from '../controls/Entry';
import { inForce, useBench } from '../state/bench';
import { save, saveText } from '../state/save';
import { sentenceOf, server, tableUrl } from '../state/server';
import { colour, type } from '../theme/tokens';
import { FileForm } from './FileForm';
import { say } from '../words';

const LEAVES = [
  { id: 'file', label: say.exports.picture },
  { id: 'table', label: say.exports.colours },
  { id: 'layers', label: say.exports.layers },
] as const;

/** What can be made of the version on the bench: pictures, colour tables, a file of layers. */
export function BenchExport({ onExports }: { onExports: () => void }) {
  const [leaf, setLeaf] = useState<(typeof LEAVES)[number]['id']>('file');
  return (
    <>
      <Choice label={say.exports.whatIsMade} options={LEAVES} value={leaf} onChoose={setLeaf} />
      {leaf === 'file' && <Pictures onExports={onExports} />}
      {leaf === 'table' && <Colours />}
      {leaf === 'layers' && <LayersFile onExports={onExports} />}
    </>
  );
}

function Pictures({ onExports }: { onExports: () => void }) {
  const { photo, versionId, keep } = useBench(useShallow(({ photo, versionId, keep }) => ({ photo, versionId, keep })));
  const [others, setOthers] = useState<readonly string[]>([]);
  const rest = photo?.versions.filter(({ id }) => id !== versionId) ?? [];
  const toggle = (id: string): void => setOthers(others.includes(id) ? others.filter((it) => it !== id) : [...others, id]);
  return (
    <>
      <FileForm
        versionIds={[versionId, ...others]}
        waits={keep !== 'kept'}
        transparent={photo?.alpha ?? false}
        wide={photo?.gamut === 'display-p3'}
        onDone={onExports}
      />
      {rest.length > 0 && (
        <View role="group" aria-label={say.exports.otherVersionsToo}>
          <Text style={type.small}>{say.exports.otherVersionsToo}</Text>
          {rest.map(({ id, name }) => (
            <Tick key={id} label={name} on={others.includes(id)} onToggle={() => toggle(id)} />
          ))}
        </View>
      )}
    </>
  );
}

const SIZES = TABLE_SIZES.map((size) => ({ id: String(size), label: `${size}` }));

/** Colour tables and lists for other programs, and what they cannot carry. */
function Colours() {
  const { versionId, history, photo, keep } = useBench(useShallow(({ versionId, history, photo, keep }) => ({ versionId, history, photo, keep })));
  const [size, setSize] = useState('33');
  const stack = inForce(history);
  const { left } = tableOf(stack);
  const corrections = correctionsOf(stack.layers);
  return (
    <>
      <Text style={type.body}>{say.exports.aTableTellsOtherProgramsWhat}</Text>
      <Choice label={say.exports.entriesASide} options={SIZES} value={size} onChoose={setSize} />
      {left.length === 0 ? (
        <Text style={type.small}>{say.exports.itCarriesAllLayers}</Text>
      ) : (
        <View role="list" aria-label={say.exports.notInTheTable} style={styles.left}>
          <Text style={type.small}>{say.exports.itLeavesOut}</Text>
          {left.map(({ name, why }, i) => (
            <Text key={i} role="listitem" style={type.small}>
              {name}: {why}.
            </Text>
          ))}
        </View>
      )}
      <Button strong label={say.exports.saveTheTableCube} off={keep !== 'kept'} onPress={() => save(tableUrl('versions', versionId, Number(size)))} />
      <Text style={type.body}>{corrections.length === 0 ? say.exports.noLayerHasAListOf : say.exports.slopeOffsetPowerAndSaturationOf}</Text>
      {corrections.map((correction) => (
        <Button
          key={correction.id}
          label={say.exports.saveIdCc(correction.id)}
          onPress={() => saveText(`${correction.id}.cc`, writeCc(correction))}
        />
      ))}
      {cutsBetween(corrections) && <Text style={type.small}>{say.exports.oneAfterAnotherTheseListsCan}</Text>}
      {corrections.length > 1 && (
        <Button label={say.exports.saveAllCcc} onPress={() => saveText(`${photo?.name ?? say.exports.lists}.ccc`, writeCcc(corrections))} />
      )}
    </>
  );
}

function LayersFile({ onExports }: { onExports: () => void }) {
  const { versionId, keep } = useBench(useShallow(({ versionId, keep }) => ({ versionId, keep })));
  const [fault, setFault] = useState('');
  const begin = async (): Promise<void> => {
    try {
      await server.addLayersFile(versionId);
      onExports();
    } catch (error) {
      setFault(sentenceOf(error, say.exports.theFileCouldNotBeBegun));
    }
  };
  return (
    <>
      <Text style={type.body}>{say.exports.anOpenrasterFileOraThePhoto}</Text>
      <Text style={type.small}>{say.exports.whatItCannotSaySuchAs}</Text>
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      <Button strong label={say.exports.makeTheFileOfLayers} off={keep !== 'kept'} onPress={() => void begin()} />
    </>
  );
}

const styles = StyleSheet.create({ left: { gap: 2 } });

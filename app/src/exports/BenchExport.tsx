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

const LEAVES = [
  { id: 'file', label: 'Picture' },
  { id: 'table', label: 'Colours' },
  { id: 'layers', label: 'Layers' },
] as const;

/** What can be made of the version on the bench: pictures, colour tables, a file of layers. */
export function BenchExport({ onExports }: { onExports: () => void }) {
  const [leaf, setLeaf] = useState<(typeof LEAVES)[number]['id']>('file');
  return (
    <>
      <Choice label="What is made" options={LEAVES} value={leaf} onChoose={setLeaf} />
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
        <View role="group" aria-label="Other versions too">
          <Text style={type.small}>Other versions too</Text>
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
      <Text style={type.body}>A table tells other programs what becomes of each colour.</Text>
      <Choice label="Entries a side" options={SIZES} value={size} onChoose={setSize} />
      {left.length === 0 ? (
        <Text style={type.small}>It carries all layers.</Text>
      ) : (
        <View role="list" aria-label="Not in the table" style={styles.left}>
          <Text style={type.small}>It leaves out:</Text>
          {left.map(({ name, why }, i) => (
            <Text key={i} role="listitem" style={type.small}>
              {name}: {why}.
            </Text>
          ))}
        </View>
      )}
      <Button strong label="Save the table (.cube)" off={keep !== 'kept'} onPress={() => save(tableUrl('versions', versionId, Number(size)))} />
      <Text style={type.body}>
        {corrections.length === 0
          ? 'No layer has a list of slope, offset and power. Grade layers can: it is their leaf called List.'
          : 'Slope, offset, power and saturation of Grade layers:'}
      </Text>
      {corrections.map((correction) => (
        <Button key={correction.id} label={`Save ${correction.id} (.cc)`} onPress={() => saveText(`${correction.id}.cc`, writeCc(correction))} />
      ))}
      {cutsBetween(corrections) && (
        <Text style={type.small}>
          One after another these lists can look different elsewhere: other programs cut strong colours between them, Bexlen does not. Put all of it
          into one Grade layer, or use the table.
        </Text>
      )}
      {corrections.length > 1 && <Button label="Save all (.ccc)" onPress={() => saveText(`${photo?.name ?? 'Lists'}.ccc`, writeCcc(corrections))} />}
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
      setFault(sentenceOf(error, 'The file could not be begun. Try again.'));
    }
  };
  return (
    <>
      <Text style={type.body}>
        An OpenRaster file (.ora): the photo, each layer’s result with its name, mode and strength, and the finished picture. Programs that paint open
        it.
      </Text>
      <Text style={type.small}>
        What it cannot say, such as a gate or a mode of our own, is in the pixels of the layer. Colours beyond white and black are cut in each layer.
      </Text>
      {fault !== '' && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {fault}
        </Text>
      )}
      <Button strong label="Make the file of layers" off={keep !== 'kept'} onPress={() => void begin()} />
    </>
  );
}

const styles = StyleSheet.create({ left: { gap: 2 } });

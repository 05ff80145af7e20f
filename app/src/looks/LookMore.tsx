import type { ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import Download from 'lucide-react-native/icons/download';
import Steps from 'lucide-react-native/icons/list-ordered';
import Trash from 'lucide-react-native/icons/trash';
import { allLayers, buildingOf, needsOf, tableOf } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Sheet } from '../controls/Sheet';
import { Words } from '../controls/Words';
import { useBench } from '../state/bench';
import { newId } from '../state/ids';
import { save } from '../state/save';
import { looksUrl, lookUrl } from '../state/server';
import { edgeOf } from '../state/words';
import { colour, radius, type } from '../theme/tokens';
import { changeLook, folderOf, removeLook, useBook, type Shown } from './book';
import { closeLooks, useLooksPanel } from './panel';
import { beginLesson } from '../lessons/lesson';
import { say, told } from '../words';

/** The look of which all is told, over the screen, until it is closed. */
export function MoreOfLook() {
  const { looks, more } = useBook();
  const shown = looks.find(({ id }) => id === more);
  return shown ? <LookMore shown={shown} onClose={() => useBook.setState({ more: undefined })} /> : null;
}

/** All that is known of a look, and what can be done with it beside putting it on. */
function LookMore({ shown, onClose }: { shown: Shown; onClose: () => void }) {
  const { look, id, own } = shown;
  const needs = needsOf(look).map(told);
  const onBench = useLooksPanel(({ leaf }) => leaf !== undefined);
  const { left } = tableOf(look.stack);
  return (
    <Sheet title={look.name} onClose={onClose}>
      {own ? (
        <>
          <Field label={say.looks.name}>
            <Words label={say.looks.nameOfTheLook} value={look.name} longest={60} onKeep={(name) => void changeLook(id, { name })} />
          </Field>
          <Field label={say.looks.folder}>
            <Words label={say.looks.folderOfTheLook} value={folderOf(shown)} longest={60} onKeep={(folder) => void changeLook(id, { folder })} />
          </Field>
          <Field label={say.looks.note}>
            <Words
              label={say.looks.noteOnTheLook}
              value={look.note ?? ''}
              empty={say.looks.none}
              longest={500}
              onKeep={(note) => void changeLook(id, { note })}
            />
          </Field>
          <Sentences shown={shown} />
        </>
      ) : (
        <Text style={type.body}>{say.looks.noteItComesWithBexlenAnd(look.note ?? '')}</Text>
      )}
      <Text style={type.small}>
        {say.looks.layersMap(
          allLayers(look.stack.layers)
            .map(({ name }) => name)
            .join(', '),
        )}
      </Text>
      {needs.length > 0 && <Text style={type.small}>{say.looks.itNeedsNeeds(needs.join(', '))}</Text>}
      <Text style={type.small}>
        {left.length === 0
          ? say.looks.aColourTableCarriesAllOf
          : say.looks.aColourTableWouldLeaveOut(left.map(({ name, why }) => `${name} (${why})`).join(', '))}
      </Text>
      <View style={styles.acts}>
        {onBench && (
          <Button
            icon={Steps}
            label={say.looks.buildItStepByStep}
            onPress={() => {
              onClose();
              closeLooks();
              beginLesson(look);
            }}
          />
        )}
        <Button icon={Download} label={say.looks.saveTheFile} onPress={() => save(lookUrl(id))} />
        {own && <Button icon={Download} label={say.looks.saveItsFolder} onPress={() => save(looksUrl(folderOf(shown)))} />}
        {own && (
          <Button
            icon={Trash}
            label={say.looks.throwAway}
            onPress={() => {
              onClose();
              void removeLook(shown);
            }}
          />
        )}
      </View>
    </Sheet>
  );
}

/** Why each layer of a look of one's own is there: what is said while it is built step by step. */
function Sentences({ shown: { look, id } }: { shown: Shown }) {
  const { steps } = buildingOf(look, newId, edgeOf(useBench((state) => state.photo)));
  if (steps.length === 0) return null;
  const keep = (at: number, words: string): void => void changeLook(id, { says: steps.map((step, i) => (i === at ? words : step.says)) });
  return (
    <>
      <Text style={type.small}>{say.looks.whyItsLayersAreThere}</Text>
      {steps.map(({ name, says }, i) => (
        <Field key={i} label={name}>
          <Words label={say.looks.whyNameIsThere(name)} value={says} longest={240} style={type.small} onKeep={(words) => keep(i, words)} />
        </Field>
      ))}
    </>
  );
}

function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <View style={styles.field}>
      <Text style={[type.small, styles.name]}>{label}</Text>
      {children}
    </View>
  );
}

const styles = StyleSheet.create({
  field: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingLeft: 12, borderRadius: radius.m, backgroundColor: colour.raised },
  name: { width: 52 },
  acts: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});

import { useState } from 'react';
import { Pressable, StyleSheet, Text, TextInput } from 'react-native';
import { figure, parseFigure, type NumberParam } from '@bexlen/core';
import { colour, radius, type, web } from '../theme/tokens';
import { say } from '../words';
import { taken } from './taken';

interface Props {
  readonly label: string;
  readonly param: NumberParam;
  readonly value: number;
  readonly edge: number;
  readonly onKeep: (value: number) => void;
}

/** A figure that can be tapped and typed. What is no number changes nothing. */
export function Figure({ label, param, value, edge, onKeep }: Props) {
  const [typed, setTyped] = useState<string>();
  const shown = figure(param, value, edge);
  if (typed === undefined)
    return (
      <Pressable
        onPress={() => setTyped(shown.replace(/[^\d.,\u2212-]/g, ''))}
        aria-label={say.controls.labelShownTypeAFigure(label, shown)}
        role="button"
        style={styles.rest}
        hitSlop={{ top: 8, bottom: 8 }}
      >
        <Text style={styles.text}>{shown}</Text>
      </Pressable>
    );
  const end = (keep: boolean): void => {
    const read = keep ? parseFigure(param, typed, edge) : undefined;
    setTyped(undefined);
    if (read !== undefined && read !== value) onKeep(read);
  };
  return (
    <TextInput
      ref={taken}
      inputMode="decimal"
      aria-label={label}
      value={typed}
      onChangeText={setTyped}
      onBlur={() => end(true)}
      onSubmitEditing={() => end(true)}
      onKeyPress={({ nativeEvent }) => nativeEvent.key === 'Escape' && end(false)}
      style={[styles.text, styles.field]}
    />
  );
}

const styles = StyleSheet.create({
  rest: { minWidth: 64, minHeight: 28, justifyContent: 'center', paddingHorizontal: 4 },
  text: { ...type.figure, textAlign: 'right' },
  field: {
    width: 72,
    minHeight: 28,
    paddingHorizontal: 6,
    backgroundColor: colour.well,
    borderRadius: radius.s,
    borderWidth: 1,
    borderColor: colour.signal,
    ...web({ outlineStyle: 'none' }),
  },
});

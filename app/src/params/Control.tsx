import { Pressable, StyleSheet, Text, View } from 'react-native';
import { hexOf, type Layer } from '@bexlen/core';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { Recede } from '../controls/held';
import { useBench } from '../state/bench';
import { edgeOf, familyOf } from '../state/words';
import { dotted, space, touch, type, web } from '../theme/tokens';
import { useMirror } from '../controls/mirror';
import { say } from '../words';

interface ControlProps {
  readonly id: string;
  readonly label: string;
  /** The layer that it belongs to, if it belongs to one. */
  readonly layer: Layer | undefined;
  readonly param: Parameters<typeof Fader>[0]['param'];
  readonly value: number;
  readonly onShow: (value: number) => void;
  readonly onKeep: (value: number) => void;
  /** Lays the control out as a test strip; by a tap on its label. */
  readonly onStrip?: () => void;
}

/** A fader with its label and figure in one row. */
export function Control({ id, label, layer, param, value, onShow, onKeep, onStrip }: ControlProps) {
  const edge = useBench((state) => edgeOf(state.photo));
  const named = layer ? say.params.labelOfName(label, layer.name) : label;
  const mirror = useMirror();
  return (
    <View style={[styles.control, mirror]}>
      <Recede>
        <Pressable
          role="button"
          aria-label={onStrip ? say.params.testStripOfNamed(named) : named}
          disabled={!onStrip}
          onPress={onStrip}
          style={styles.controlLabel}
        >
          {param.hue !== undefined && <View style={[styles.hue, { backgroundColor: hexOf(0.7, 0.14, param.hue) }]} />}
          <Text style={[type.label, styles.words, onStrip && dotted]} numberOfLines={2}>
            {label}
          </Text>
        </Pressable>
      </Recede>
      <Recede mine={(held) => held === id} style={styles.controlFader}>
        <Fader
          id={id}
          label={named}
          param={param}
          value={value}
          edge={edge}
          family={layer ? familyOf(layer) : 'group'}
          onShow={onShow}
          onKeep={onKeep}
        />
      </Recede>
      <Recede>
        <Figure label={named} param={param} value={value} edge={edge} onKeep={onKeep} />
      </Recede>
    </View>
  );
}

const styles = StyleSheet.create({
  control: { flexDirection: 'row', alignItems: 'center', paddingHorizontal: space.m, gap: 8 },
  // Large text makes it wider before it breaks a word.
  controlLabel: { width: 84, minHeight: touch, flexDirection: 'row', alignItems: 'center', gap: 6, ...web({ minWidth: 'min-content' }) },
  words: { flexShrink: 1 },
  hue: { width: 10, height: 10, borderRadius: 5 },
  controlFader: { flex: 1, flexDirection: 'row' },
});

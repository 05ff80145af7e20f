import { StyleSheet, View } from 'react-native';
import type { NumberParam } from '@bexlen/core';
import { Button } from '../controls/Button';
import { Recede } from '../controls/held';
import { Wheel } from '../controls/Wheel';
import { valueOf } from '../edits/target';
import { space } from '../theme/tokens';
import { Control } from './Control';
import type { EditorProps } from './ParamEditor';
import { say, inSentence } from '../words';

/** A fader; with a wheel above it, where the number is a hue that has its amount beside it. */
export function NumberEditor({ target, name, param, beside, wheeled, onStrip }: EditorProps<NumberParam>) {
  const fader = (
    <Control
      id={target.idOf(name)}
      label={param.label}
      layer={target.layer}
      param={param}
      value={Number(valueOf(target, name))}
      onShow={(next) => target.show({ [name]: next })}
      onKeep={(next) => target.keep({ [name]: next })}
      {...(onStrip && { onStrip: () => onStrip(name) })}
    />
  );
  const another = (): number => Math.round(param.min + Math.random() * (param.max - param.min));
  const button = beside ?? (param.seed && <Button label={say.params.another} onPress={() => target.keep({ [name]: another() })} />);
  if (button)
    return (
      <View style={styles.beside}>
        <View style={styles.grow}>{fader}</View>
        <Recede>{button}</Recede>
      </View>
    );
  if (!param.amount || wheeled) return fader;
  return (
    <>
      <HueWheel target={target} name={name} param={param} amount={param.amount} />
      {fader}
    </>
  );
}

function HueWheel({ target, name, param, amount }: EditorProps<NumberParam> & { amount: string }) {
  const id = `${target.idOf(name)}-wheel`;
  const both = (hue: number, share: number): Record<string, number> => ({ [name]: hue, [amount]: share });
  return (
    <Recede mine={(held) => held === id} style={styles.wheel}>
      <Wheel
        id={id}
        label={say.params.labelOfNameAsAWheel(param.label, target.name)}
        hue={Number(valueOf(target, name))}
        amount={Number(valueOf(target, amount))}
        onShow={(hue, share) => target.show(both(hue, share))}
        onKeep={(hue, share) => target.keep(both(hue, share), `${inSentence(param.label)} ${Math.round(hue)}\u00b0, ${Math.round(share * 100)} %`)}
      />
    </Recede>
  );
}

const styles = StyleSheet.create({
  grow: { flex: 1 },
  beside: { flexDirection: 'row', alignItems: 'center', paddingRight: space.m },
  wheel: { alignItems: 'center', paddingVertical: 6 },
});

import { StyleSheet, Text, View } from 'react-native';
import { fitWords, placesOfLooks, USUAL, type Stand } from '@bexlen/core';
import { Button, Choice } from '../controls/Button';
import { Fader } from '../controls/Fader';
import { Figure } from '../controls/Figure';
import { useFacts } from '../engine/facts';
import { colour, type } from '../theme/tokens';
import { useBook, type Shown } from './book';
import { factsAbout } from './LookGrid';
import { say, told } from '../words';

const strengthOfLook = { type: 'number', label: say.looks.strengthOfTheLook, unit: 'percent', min: 0, max: 1, step: 0.01, at: 1 } as const;

interface Props {
  readonly shown: Shown;
  /** Where the photo stands that is to be fitted; undefined where it is not, or until that is known. */
  readonly stand: Stand | undefined;
  readonly strength: number;
  readonly onStrength: (value: number) => void;
  /** What putting it on is called here. */
  readonly act: string;
  readonly busy?: boolean;
  readonly onPut: () => void;
  readonly onMore: () => void;
}

/** The look that is chosen: its sentence, how strong, where it goes, and the button that puts it on. */
export function LookBar({ shown, stand, strength, onStrength, act, busy = false, onPut, onMore }: Props) {
  const { where, fit } = useBook();
  const facts = useFacts();
  const { look } = shown;
  const { plain, warning } = factsAbout(shown, facts);
  const fitted = stand
    ? fitWords(stand, look.made ?? USUAL)
        .split(', ')
        .map(told)
        .join(', ') || say.looks.thisPhotoStandsAsTheLook
    : undefined;
  return (
    <View role="group" aria-label={look.name} style={styles.bar}>
      <View style={styles.line}>
        <Text style={[type.title, styles.grow]} numberOfLines={1}>
          {look.name}
        </Text>
        <Button label={say.looks.fit} says={say.looks.fitThePhotoToTheLook} pressed={fit} onPress={() => useBook.setState({ fit: !fit })} />
        <Button label={say.looks.more} onPress={onMore} />
      </View>
      <Text style={type.small} numberOfLines={2}>
        {fitted ? say.looks.fitFitted(fitted) : (warning ?? look.note ?? plain)}
      </Text>
      <View style={styles.line}>
        <View style={styles.fader}>
          <Fader
            id="strength of the look"
            label={say.looks.strengthOfTheLook}
            param={strengthOfLook}
            value={strength}
            edge={1}
            family="group"
            onShow={onStrength}
            onKeep={onStrength}
          />
        </View>
        <Figure label={say.looks.strengthOfTheLook} param={strengthOfLook} value={strength} edge={1} onKeep={onStrength} />
      </View>
      <View style={styles.line}>
        <View style={styles.grow}>
          <Choice label={say.looks.whereItGoes} options={placesOfLooks} value={where} onChoose={(to) => useBook.setState({ where: to })} />
        </View>
        <Button strong label={act} off={busy} onPress={onPut} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { paddingHorizontal: 12, paddingVertical: 6, gap: 4, borderTopWidth: 1, borderTopColor: colour.well, backgroundColor: colour.desk },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  grow: { flex: 1, minWidth: 0 },
  fader: { flex: 1, flexDirection: 'row' },
});

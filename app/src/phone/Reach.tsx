import { StyleSheet, Text, View } from 'react-native';
import { usePathname } from 'expo-router';
import { Button } from '../controls/Button';
import { loadAnew } from '../offline/page';
import { useReach } from '../state/news';
import { colour, type } from '../theme/tokens';
import { say } from '../words';

/** How the server stands to this page, where that is not as usual: over the screen it belongs to nothing else. */
export function Reach() {
  const { reach, newer } = useReach();
  // The bench says by its lamp what is kept and what waits.
  const onBench = usePathname().startsWith('/bench');
  if (newer)
    return (
      <View role="status" style={styles.strip}>
        <Text style={[type.body, styles.words]}>{say.phone.updateAvailableYourChangesAreSaved}</Text>
        <Button label={say.phone.reload} onPress={() => void loadAnew()} />
      </View>
    );
  if (reach === 'away' && !onBench)
    return (
      <View role="status" style={styles.strip}>
        <Text style={[type.body, styles.words]}>{say.phone.offlineChangesAreSavedHereAnd}</Text>
      </View>
    );
  return null;
}

/** Instead of everything: the server knows this device no more. */
export function SentAway() {
  return (
    <View role="alert" style={styles.away}>
      <Text style={[type.title, styles.centred]}>{say.phone.thisDeviceIsNotPairedAny}</Text>
      <Text style={[type.body, styles.centred]}>{say.phone.itsPhotosWereRemovedFromHere}</Text>
      <Button strong label={say.phone.pairThisDevice} onPress={() => location.assign('/pair')} />
    </View>
  );
}

const styles = StyleSheet.create({
  strip: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    paddingLeft: 12,
    paddingRight: 8,
    paddingVertical: 6,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.signal,
  },
  words: { flex: 1, fontSize: 15, lineHeight: 19 },
  away: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 16, padding: 24 },
  centred: { textAlign: 'center', maxWidth: 420 },
});

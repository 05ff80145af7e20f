import { StyleSheet, Text, View } from 'react-native';
import { router } from 'expo-router';
import { Button } from '../src/controls/Button';
import { type } from '../src/theme/tokens';
import { say } from '../src/words';

/** What is seen under an address that leads nowhere. */
export default function NotFound() {
  return (
    <View style={styles.page}>
      <Text style={type.title}>{say.screens.thereIsNoPageAtThis}</Text>
      <Button label={say.screens.openTheShelf} onPress={() => router.replace('/')} />
    </View>
  );
}

const styles = StyleSheet.create({ page: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 16, padding: 24 } });

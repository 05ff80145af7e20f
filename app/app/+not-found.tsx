import { StyleSheet, Text, View } from 'react-native';
import { router } from 'expo-router';
import { Button } from '../src/controls/Button';
import { type } from '../src/theme/tokens';

/** What is seen under an address that leads nowhere. */
export default function NotFound() {
  return (
    <View style={styles.page}>
      <Text style={type.title}>There is no page at this address.</Text>
      <Button label="Open the shelf" onPress={() => router.replace('/')} />
    </View>
  );
}

const styles = StyleSheet.create({ page: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 16, padding: 24 } });

import { Slot } from 'expo-router';
import Head from 'expo-router/head';
import { View } from 'react-native';
import { SafeAreaProvider } from 'react-native-safe-area-context';
import { colour } from '../src/theme/tokens';

export default function Layout() {
  return (
    <SafeAreaProvider>
      <Head>
        <title>Bexlen</title>
      </Head>
      <View style={{ flex: 1, backgroundColor: colour.desk }}>
        <Slot />
      </View>
    </SafeAreaProvider>
  );
}

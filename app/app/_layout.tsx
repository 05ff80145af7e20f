import { Suspense, useEffect } from 'react';
import { Slot } from 'expo-router';
import Head from 'expo-router/head';
import { View } from 'react-native';
import { SafeAreaProvider } from 'react-native-safe-area-context';
import { Names } from '../src/controls/Names';
import { readyAhead } from '../src/engine/ahead';
import { keepForLater } from '../src/offline/page';
import { fetchScreens } from '../src/screens/screens';
import { Reach, SentAway } from '../src/phone/Reach';
import { withinSight } from '../src/phone/sight';
import { goOnSending } from '../src/shelf/sending';
import { noteFaults } from '../src/state/faults';
import { listen, useReach } from '../src/state/news';
import { keepSending } from '../src/state/unsent';
import { notePlace } from '../src/state/place';
import { colour } from '../src/theme/tokens';

export default function Layout() {
  const unpaired = useReach(({ reach }) => reach === 'unpaired');
  useEffect(noteFaults, []);
  useEffect(listen, []);
  useEffect(keepSending, []);
  useEffect(notePlace, []);
  useEffect(withinSight, []);
  useEffect(readyAhead, []);
  useEffect(fetchScreens, []);
  useEffect(() => {
    keepForLater();
    void goOnSending();
  }, []);
  return (
    <SafeAreaProvider>
      <Head>
        <title>Bexlen</title>
      </Head>
      <View style={{ flex: 1, backgroundColor: colour.desk }}>
        <Reach />
        {unpaired ? (
          <SentAway />
        ) : (
          <Suspense fallback={null}>
            <Slot />
          </Suspense>
        )}
        <Names />
      </View>
    </SafeAreaProvider>
  );
}

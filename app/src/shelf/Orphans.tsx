import { useEffect, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import type { Orphan } from '@bexlen/api';
import { Button } from '../controls/Button';
import { sentenceOf, server } from '../state/server';
import { colour, type } from '../theme/tokens';
import { openShelf, replace } from './shelf';
import { say } from '../words';

/** Originals that were found without a photo, as a broken-off import leaves them: they go back to the shelf, or, where they are no photos, away. */
export function Orphans() {
  const [found, setFound] = useState<readonly Orphan[]>([]);
  const [refused, setRefused] = useState<readonly Orphan[]>([]);
  const [message, setMessage] = useState('');
  useEffect(() => {
    let left = false;
    server.orphans().then(
      (orphans) => left || setFound(orphans),
      // The shelf itself says that the server is away.
      () => undefined,
    );
    return () => {
      left = true;
    };
  }, []);
  const takeAll = async (): Promise<void> => {
    const bad: Orphan[] = [];
    for (const orphan of found)
      try {
        replace((await server.takeOrphan(orphan.id)).photo);
      } catch (error) {
        bad.push(orphan);
        setMessage(sentenceOf(error));
      }
    setFound([]);
    setRefused(bad);
    await openShelf();
  };
  const throwAway = async (): Promise<void> => {
    try {
      for (const { id } of refused) await server.dropOrphan(id);
      setRefused([]);
      setMessage('');
    } catch (error) {
      setMessage(sentenceOf(error));
    }
  };
  if (found.length + refused.length === 0) return null;
  const words = (count: number): string => (count === 1 ? say.shelf.oneOriginalWas : say.shelf.countOriginalsWere(count));
  return (
    <View role="status" style={styles.line}>
      {found.length > 0 && (
        <>
          <Text style={type.body}>{say.shelf.wordsFoundWithoutAPhotoNothing(words(found.length))}</Text>
          <Button label={say.shelf.bringToTheShelf} onPress={() => void takeAll()} />
        </>
      )}
      {refused.length > 0 && (
        <>
          <Text style={[type.body, { color: colour.fault }]}>{say.shelf.wordsRefusedMessage(words(refused.length), message)}</Text>
          <Button label={say.shelf.throwAway} onPress={() => void throwAway()} />
        </>
      )}
    </View>
  );
}

const styles = StyleSheet.create({ line: { padding: 16, gap: 10 } });

import { useEffect, useState } from 'react';
import { Text } from 'react-native';
import { usualName } from '@bexlen/core';
import type { Estimate, FileWish } from '@bexlen/api';
import { sentenceOf, server } from '../state/server';
import { colour, type } from '../theme/tokens';
import { megabytes } from './exports';
import { say } from '../words';

/** What is chosen must rest so long before its size is asked for. */
const REST_MS = 500;

interface Props {
  readonly versionId: string;
  readonly wish: FileWish;
  readonly several: number;
  readonly waits: boolean;
  /** A sentence that stands below already. */
  readonly said: string;
}

/** How large a file will be: its pixels, and about its bytes, asked for once what is chosen rests. */
export function FileSize({ versionId, wish, several, waits, said }: Props) {
  const key = JSON.stringify({ versionId, ...wish, fileName: usualName });
  const [told, setTold] = useState<{ readonly key: string; readonly estimate: Estimate | undefined; readonly fault: string }>();
  useEffect(() => {
    if (versionId === '' || waits) return;
    let gone = false;
    const timer = setTimeout(() => {
      server.estimate(JSON.parse(key)).then(
        (estimate) => gone || setTold({ key, estimate, fault: '' }),
        (error: unknown) => gone || setTold({ key, estimate: undefined, fault: sentenceOf(error, '') }),
      );
    }, REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [key, versionId, waits]);
  const now = told?.key === key ? told : undefined;
  const { width, height, bytes } = now?.estimate ?? told?.estimate ?? { width: 0, height: 0, bytes: 0 };
  if (waits) return <Text style={type.small}>{say.exports.waitsUntilYourLastChangeIs}</Text>;
  if (now?.fault && now.fault === said) return null;
  if (now?.fault) return <Text style={[type.small, { color: colour.fault }]}>{now.fault}</Text>;
  return (
    <Text role="status" aria-label={say.exports.aboutTheFile} style={[type.figure, !now && { color: colour.quiet }]}>
      {width === 0 ? ' ' : say.exports.widthXHeightAboutMegabytesWhat(width, height, megabytes(bytes), several > 1 ? say.exports.forTheFirst : '')}
    </Text>
  );
}

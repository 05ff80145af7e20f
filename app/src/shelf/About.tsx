import { useEffect, type ReactNode } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import Download from 'lucide-react-native/icons/download';
import { LONGEST_CAPTION, LONGEST_NAME, type Photo, type VersionSummary } from '@bexlen/api';
import { IconButton } from '../controls/Button';
import { VersionLine } from '../controls/VersionLine';
import { Words } from '../controls/Words';
import { download } from '../exports/Exports';
import { followExports, useExports, megabytes } from '../exports/exports';
import { colour, type } from '../theme/tokens';
import { layersOf } from '../state/words';
import { changePhoto, renameVersion } from './shelf';
import { locale, say, decimal } from '../words';

interface Props {
  readonly photo: Photo;
  readonly onOpen: (version: VersionSummary) => void;
}

/** All about a photo: its name and caption, what the file is, its versions, and the files made of it. */
export function About({ photo, onOpen }: Props) {
  const jobs = useExports((state) => state.jobs).filter((job) => job.photoId === photo.id && job.state === 'done');
  useEffect(() => followExports(), []);
  return (
    <View style={styles.about}>
      <Words
        label={say.shelf.nameOfThePhoto}
        value={photo.name}
        longest={LONGEST_NAME}
        style={type.title}
        onKeep={(name) => void changePhoto(photo, { name })}
      />
      <Words
        label={say.shelf.caption}
        value={photo.caption}
        empty={say.shelf.noCaptionYet}
        longest={LONGEST_CAPTION}
        style={type.body}
        onKeep={(caption) => void changePhoto(photo, { caption })}
      />
      {photo.missing && (
        <Text role="alert" style={[type.body, { color: colour.fault }]}>
          {say.shelf.theOriginalOfThisPhotoIs}
        </Text>
      )}
      <View style={styles.facts}>
        {factsOf(photo).map(([what, value]) => (
          <View key={what} style={styles.fact}>
            <Text style={[type.small, styles.what]}>{what}</Text>
            <Text style={type.figure}>{value}</Text>
          </View>
        ))}
      </View>
      <Part title={say.shelf.versions}>
        {photo.versions.map((version) => (
          <View key={version.id} style={styles.row}>
            <VersionLine
              version={version}
              note={layersOf(version)}
              onOpen={() => onOpen(version)}
              onRename={(name) => void renameVersion(photo, version.id, name)}
            />
          </View>
        ))}
      </Part>
      <Part title={say.shelf.exports}>
        {jobs.length === 0 && <Text style={type.small}>{say.shelf.noFileWasMadeOfIt}</Text>}
        {jobs.map((job) => (
          <View key={job.id} style={styles.row}>
            <View style={styles.words}>
              <Text style={type.label} numberOfLines={1}>
                {job.fileName}
              </Text>
              <Text style={[type.figure, styles.small]}>
                {job.width > 0 ? `${job.width} x ${job.height} · ` : ''}
                {megabytes(job.bytes ?? 0)}
              </Text>
            </View>
            <IconButton icon={Download} label={say.shelf.downloadFile(job.fileName)} onPress={() => download(job)} />
          </View>
        ))}
      </Part>
    </View>
  );
}

/** The same beside the sheet. */
export function AboutPane(props: Props) {
  return (
    <View role="complementary" aria-label={say.shelf.aboutName(props.photo.name)} style={styles.pane}>
      <ScrollView contentContainerStyle={styles.inside}>
        <About key={props.photo.id} {...props} />
      </ScrollView>
    </View>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <View style={styles.part}>
      <Text role="heading" aria-level={2} style={[type.small, styles.heading]}>
        {title}
      </Text>
      {children}
    </View>
  );
}

const factsOf = ({ width, height, depth, format, bytes, importedAt }: Photo): readonly (readonly [string, string])[] => [
  [say.shelf.size, say.shelf.widthXHeightWidthMegapixels(width, height, decimal((width * height) / 1e6, 1))],
  [say.shelf.file, say.shelf.formatDepthBitMegabytes(format, depth, megabytes(bytes))],
  [say.shelf.imported, new Date(importedAt).toLocaleDateString(locale, { dateStyle: 'medium' })],
];

const styles = StyleSheet.create({
  pane: { width: 340, backgroundColor: colour.desk, borderLeftWidth: 1, borderLeftColor: colour.well },
  inside: { padding: 16 },
  about: { gap: 6 },
  facts: { gap: 4, paddingVertical: 6 },
  fact: { flexDirection: 'row', gap: 8 },
  what: { width: 64 },
  part: { gap: 8, paddingTop: 8 },
  heading: { borderBottomWidth: 1, borderBottomColor: colour.edge, paddingBottom: 4 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  words: { flex: 1, minWidth: 0 },
  small: { fontSize: 12, color: colour.quiet },
});

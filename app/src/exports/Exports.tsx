import { useEffect } from 'react';
import { Image, ScrollView, StyleSheet, Text, View } from 'react-native';
import { useShallow } from 'zustand/react/shallow';
import Download from 'lucide-react-native/icons/download';
import Again from 'lucide-react-native/icons/rotate-ccw';
import Copy from 'lucide-react-native/icons/copy';
import Share from 'lucide-react-native/icons/share-2';
import Trash from 'lucide-react-native/icons/trash';
import X from 'lucide-react-native/icons/x';
import { formatOf, type ExportJob } from '@bexlen/api';
import { Button, IconButton } from '../controls/Button';
import { Places } from '../controls/Places';
import { save } from '../state/save';
import { archiveUrl, exportThumbUrl, exportUrl, thumbUrl } from '../state/server';
import { colour, radius, type } from '../theme/tokens';
import { Machines } from './Machines';
import { batchOf, inBatches, wordsOfBatch } from './batch';
import { again, cancel, discard, goOn, stopAll, followExports, megabytes, tell, useExports } from './exports';
import { canCopy, canShare, copy, share } from './share';
import { say, told, decimal } from '../words';

/** The drying line: one row for every file that was made, is being made, or could not be made. */
export function Exports() {
  const { jobs, state, message } = useExports(useShallow(({ jobs, state, message }) => ({ jobs, state, message })));
  const done = jobs.filter((job) => job.state === 'done');
  useEffect(() => followExports(), []);
  return (
    <View style={styles.screen}>
      <Text role="heading" aria-level={1} style={styles.title}>
        {say.exports.exports}
      </Text>
      <ScrollView contentContainerStyle={styles.list}>
        {state === 'away' && (
          <Text role="alert" style={[type.body, { color: colour.fault }]}>
            {say.exports.theServerCannotBeReachedThis}
          </Text>
        )}
        {message !== '' && (
          <Text role="alert" style={[type.body, { color: colour.fault }]}>
            {message}
          </Text>
        )}
        {state === 'ready' && jobs.length === 0 && <Text style={[type.body, styles.empty]}>{say.exports.noExportsYetOpenAPhoto}</Text>}
        <Machines />
        {inBatches(jobs).map((batch) => (
          <Together key={batch[0]?.batch ?? batch[0]?.id} jobs={batch} />
        ))}
      </ScrollView>
      <Places here="exports">
        {done.length > 1 && (
          <Button icon={Download} label={say.exports.allCountAsOneArchive(done.length)} onPress={() => save(archiveUrl(done.map(({ id }) => id)))} />
        )}
      </Places>
    </View>
  );
}

/** Files that were ordered together, with what there is to say of all of them while some are not made yet. */
function Together({ jobs }: { jobs: readonly ExportJob[] }) {
  const batch = batchOf(jobs);
  const [first] = jobs;
  const open = batch.left > 0 || batch.cancelled > 0;
  return (
    <>
      {jobs.length > 1 && first && open && (
        <View role="group" aria-label={say.exports.countFiles(jobs.length)} style={styles.batch}>
          <Text role="status" style={[type.label, styles.facts]}>
            {wordsOfBatch(batch)}
          </Text>
          {batch.left > 0 ? (
            <Button icon={X} label={say.exports.stop} says={say.exports.stopLeftFiles(batch.left)} onPress={() => void stopAll(batch.ids)} />
          ) : (
            <Button
              icon={Again}
              label={say.exports.goOn}
              says={say.exports.goOnWithCancelledFiles(batch.cancelled)}
              onPress={() => void goOn(batch.ids)}
            />
          )}
        </View>
      )}
      {jobs.map((job) => (
        <Row key={job.id} job={job} />
      ))}
    </>
  );
}

/** What a file is, in words. */
function kindOf({ format, quality, depth, gamut, width, height }: ExportJob): string {
  if (format === 'pdf') return say.exports.contactSheetPdf;
  if (format === 'ora') return say.exports.widthXHeightLayersOpenraster(width, height);
  const { label, depths } = formatOf(format);
  return `${width} x ${height} · ${label}${quality === null ? '' : ` ${quality}`}${depths.length > 1 ? say.exports.depthBit(depth) : ''}${gamut === 'display-p3' ? say.exports.displayP : ''}`;
}

function words(job: ExportJob): string {
  if (job.state === 'waiting') return say.exports.waitsForItsTurn;
  if (job.state === 'working') return `${Math.round(job.progress * 100)} %`;
  if (job.state === 'cancelled') return say.exports.cancelled;
  if (job.state === 'failed') return say.exports.couldNotBeMade;
  return `${megabytes(job.bytes ?? 0)} · ${decimal((job.tookMs ?? 0) / 1000, 1)} s`;
}

function Row({ job }: { job: ExportJob }) {
  const underWay = job.state === 'waiting' || job.state === 'working';
  return (
    <View role="group" aria-label={job.fileName} style={styles.row}>
      <Image
        source={{ uri: job.state === 'done' && job.format !== 'pdf' && job.format !== 'ora' ? exportThumbUrl(job.id) : thumbUrl(job.photoId) }}
        style={styles.thumb}
        alt=""
      />
      <View style={styles.facts}>
        <Text style={type.label} numberOfLines={2}>
          {job.fileName}
        </Text>
        <Text style={[type.figure, styles.small]}>{kindOf(job)}</Text>
        <Text role="status" style={[type.figure, styles.small, job.state === 'failed' && { color: colour.fault }]}>
          {words(job)}
        </Text>
        {job.fault && (
          <Text style={type.body}>
            {told(job.fault.message)} {told(job.fault.hint)}
          </Text>
        )}
        {job.notes.map((note) => (
          <Text key={note} style={type.small}>
            {note}
          </Text>
        ))}
        {job.state === 'working' && (
          <View style={styles.track}>
            <View style={[styles.bar, { width: `${job.progress * 100}%` }]} />
          </View>
        )}
      </View>
      <View style={styles.acts}>
        {job.state === 'done' &&
          (canShare(job.format) ? (
            <Button icon={Share} label={say.exports.share} strong onPress={() => void share(job).then(tell)} />
          ) : (
            <Button icon={Download} label={say.exports.download} strong onPress={() => download(job)} />
          ))}
        <View style={styles.line}>
          {job.state === 'done' && canShare(job.format) && (
            <IconButton icon={Download} label={say.exports.downloadFile(job.fileName)} onPress={() => download(job)} />
          )}
          {job.state === 'done' && canCopy(job.format) && (
            <IconButton icon={Copy} label={say.exports.copyFile(job.fileName)} onPress={() => void copy(job).then(tell)} />
          )}
          {underWay ? (
            <IconButton icon={X} label={say.exports.cancelFile(job.fileName)} onPress={() => void cancel(job)} />
          ) : (
            <IconButton icon={Again} label={say.exports.makeFileAgain(job.fileName)} onPress={() => void again(job)} />
          )}
          {job.state !== 'working' && <IconButton icon={Trash} label={say.exports.removeFile(job.fileName)} onPress={() => void discard(job)} />}
        </View>
      </View>
    </View>
  );
}

/** Gives a finished file to the browser. */
export const download = (job: ExportJob): void => save(exportUrl(job.id), job.fileName);

const styles = StyleSheet.create({
  screen: { flex: 1, backgroundColor: colour.well },
  title: { ...type.title, fontSize: 24, paddingHorizontal: 12, paddingTop: 14, paddingBottom: 8 },
  list: { paddingHorizontal: 12, paddingBottom: 16, gap: 10, width: '100%', maxWidth: 900 },
  empty: { paddingVertical: 40 },
  batch: { flexDirection: 'row', gap: 12, alignItems: 'center', paddingHorizontal: 8 },
  row: { flexDirection: 'row', gap: 12, padding: 8, backgroundColor: colour.desk, borderRadius: radius.m, alignItems: 'center' },
  thumb: { width: 72, height: 72, borderRadius: radius.s },
  facts: { flex: 1, minWidth: 0, gap: 3 },
  small: { fontSize: 12, color: colour.quiet },
  track: { height: 4, backgroundColor: colour.groove, borderRadius: 2 },
  bar: { height: 4, backgroundColor: colour.signal, borderRadius: 2 },
  acts: { alignItems: 'flex-end' },
  line: { flexDirection: 'row' },
});

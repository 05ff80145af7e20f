import { useEffect, useState, type ReactNode } from 'react';
import { Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { router } from 'expo-router';
import { pictureSize } from '@bexlen/core';
import { Button } from '../controls/Button';
import { HeldFigure } from '../controls/held';
import { workingEdge } from '../engine/device';
import { showPhoto } from '../engine/preview';
import { notify, useBench } from '../state/bench';
import { openVersion } from '../state/autosave';
import { useLayout } from '../state/layout';
import { whenReached } from '../state/news';
import { OFFLINE, Refusal } from '../state/server';
import { colour, type, WIDE } from '../theme/tokens';
import { MoreOfLook } from '../looks/LookMore';
import { LooksOnBench } from '../looks/Looks';
import { closeLooks, openLessons, openLooks, useLooksPanel } from '../looks/panel';
import { Variants } from '../looks/Variants';
import { useLesson } from '../lessons/lesson';
import { LessonBar } from '../lessons/LessonBar';
import { Beside } from '../viewer/Beside';
import { FirstSight } from '../viewer/FirstSight';
import { Viewer } from '../viewer/Viewer';
import { PhoneDesk, SideDesk, WideDesk, WidePanel } from '../desk/Desk';
import { Developing } from './Developing';
import { Framing } from './Framing';
import { KeyList, useKeys, useShown } from './keys';
import { useMirror } from '../controls/mirror';
import { Panels } from './Panels';
import { Tools } from './Tools';
import { TopBar, type Panel } from './TopBar';
import { say } from '../words';

/** The working screen: photo and desk. */
export function Bench({ versionId }: { versionId: string }) {
  const { width, height, scale } = useWindowDimensions();
  const [panel, setPanel] = useState<Panel>();
  const [rack, setRack] = useState(false);
  const [before, setBefore] = useState<'geometry' | 'development'>();
  const looks = useLooksPanel(({ leaf }) => leaf !== undefined);
  const [fault, setFault] = useState<Refusal>();
  const [tries, setTries] = useState(0);
  const photo = useBench((state) => state.photo);
  const loaded = useBench((state) => state.versionId === versionId);
  const goTo = (id: string): void => {
    setPanel(undefined);
    router.replace({ pathname: '/bench/[version]', params: { version: id } });
  };

  useEffect(() => {
    if (useBench.getState().versionId === versionId && useBench.getState().photo) return;
    setFault(undefined);
    openVersion(versionId, (id) => router.setParams({ version: id })).catch((error: unknown) =>
      setFault(error instanceof Refusal ? error : new Refusal({ code: 'internal', message: String(error), hint: say.bench.goBackToTheShelf })),
    );
  }, [versionId, tries]);
  const away = fault?.fault.code === OFFLINE.code;
  useEffect(() => (away ? whenReached(() => setTries((count) => count + 1)) : undefined), [away, tries]);
  const photoId = loaded ? photo?.id : undefined;
  const edge = workingEdge({ width, height, scale }, photo ?? { width: 1, height: 1 });
  useEffect(() => {
    const { photo: opened } = useBench.getState();
    return opened && photoId ? showPhoto(opened, edge) : undefined;
  }, [photoId, edge]);
  useEffect(
    () => () => {
      closeLooks();
      useBench.setState({ versionId: '', photo: undefined });
    },
    [],
  );
  const teaching = useLesson(({ lesson }) => lesson !== undefined);
  useKeys();

  const wide = width >= WIDE;
  // A phone that lies on its side has its desk beside the photo.
  const lying = !wide && width > height;
  const mirror = useMirror();
  const geometry = useBench((state) => state.stack().geometry);
  const size = photo ? pictureSize(geometry, photo) : { width: 1, height: 1 };
  const fullWidth = size.width;
  const besideUpright = useLayout((state) => state.upright === 'side');
  const aside = lying || (wide && size.height > size.width && besideUpright);
  if (fault)
    return (
      <View style={styles.fault}>
        <Text style={type.title}>{fault.message}</Text>
        <Text style={type.body}>{fault.fault.hint}</Text>
        <Button label={say.bench.backToTheShelf} onPress={() => router.replace('/')} />
      </View>
    );
  const ready = loaded && photo !== undefined;
  const viewer = (
    <View style={styles.grow}>
      {ready && <Viewer name={photo.name} fullWidth={fullWidth} />}
      <FirstSight key={versionId} versionId={versionId} name={photo?.name ?? ''} />
    </View>
  );
  const done = (): void => setBefore(undefined);
  const beforeLayers = before === 'development' ? <Developing onDone={done} /> : <Framing onDone={done} />;
  const entries = {
    onFrame: () => setBefore('geometry'),
    onDevelop: !photo || photo.headroom === null ? undefined : () => setBefore('development'),
    onLooks: openLooks,
    onLessons: openLessons,
  };
  return (
    <View style={styles.bench}>
      <Away>
        <TopBar
          tools={(wide || lying) && <Tools inBar fullWidth={fullWidth} />}
          onBack={() => (router.canGoBack() ? router.back() : router.replace('/'))}
          onPanel={setPanel}
        />
      </Away>
      {wide || lying ? (
        <>
          <LessonBar wide />
          <View style={[styles.upper, lying && mirror]}>
            {viewer}
            <Away beside>
              {before ? (
                <View style={styles.side}>{beforeLayers}</View>
              ) : looks ? (
                <View style={styles.side}>
                  <LooksOnBench />
                </View>
              ) : aside ? (
                <View style={styles.side}>{ready && <SideDesk {...entries} />}</View>
              ) : (
                <WidePanel rack={rack} onRackDone={() => setRack(false)} />
              )}
            </Away>
          </View>
          {!aside && <Away>{ready ? <WideDesk onRack={() => setRack(true)} {...entries} /> : <View style={styles.noDesk} />}</Away>}
        </>
      ) : (
        <>
          {viewer}
          {before ? (
            <View style={[styles.sheet, { height: Math.round(height * 0.5) }]}>{beforeLayers}</View>
          ) : !ready ? (
            <View style={[styles.sheet, { height: Math.round(height * 0.5) }]} />
          ) : looks ? (
            <View style={[styles.sheet, { height: Math.round(height * 0.62) }]}>
              <LooksOnBench />
            </View>
          ) : (
            <PhoneDesk room={height} underLesson={teaching} tools={teaching ? <LessonBar /> : <Tools fullWidth={fullWidth} />} {...entries} />
          )}
        </>
      )}
      <HeldFigure />
      <MoreOfLook />
      <Beside />
      <Variants />
      <KeyList />
      <Notice />
      <Panels panel={panel} onClose={() => setPanel(undefined)} onVersion={goTo} onExports={() => router.push('/exports')} />
    </View>
  );
}

/** What steps aside while nothing but the photo is wanted. */
function Away({ beside = false, children }: { beside?: boolean; children: ReactNode }) {
  const bare = useShown((state) => state.bare);
  return <View style={[beside && styles.beside, bare && styles.gone]}>{children}</View>;
}

/** A sentence for people, until it is tapped away. */
function Notice() {
  const notice = useBench((state) => state.notice);
  if (!notice) return null;
  return (
    <Pressable role="alert" aria-label={say.bench.noticeTapToClose(notice)} onPress={() => notify('')} style={styles.notice}>
      <Text style={type.body}>{notice}</Text>
      <Text style={[type.small, { color: colour.signalText }]}>{say.bench.close}</Text>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  bench: { flex: 1, backgroundColor: colour.desk },
  upper: { flex: 1, flexDirection: 'row', minHeight: 0 },
  grow: { flex: 1 },
  noDesk: { height: 100 },
  beside: { flexDirection: 'row' },
  gone: { display: 'none' },
  side: { width: 372, backgroundColor: colour.desk, borderLeftWidth: 1, borderLeftColor: colour.well, paddingTop: 10 },
  sheet: { backgroundColor: colour.desk, borderTopLeftRadius: 10, borderTopRightRadius: 10, paddingTop: 10 },
  fault: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 12, padding: 24, backgroundColor: colour.desk },
  notice: {
    position: 'absolute',
    top: 60,
    left: 12,
    right: 12,
    maxWidth: 520,
    alignSelf: 'center',
    padding: 14,
    gap: 6,
    borderRadius: 8,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.signal,
  },
});

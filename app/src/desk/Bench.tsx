import { useEffect, useState } from 'react';
import { Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { router } from 'expo-router';
import Frame from 'lucide-react-native/icons/contrast';
import Compare from 'lucide-react-native/icons/eye';
import Scan from 'lucide-react-native/icons/scan';
import { Button, IconButton } from '../controls/Button';
import { HeldFigure, Recede } from '../controls/held';
import { showPhoto, usePreview, workingEdge } from '../engine/preview';
import { notify, openChannel, redo, undo, useBench } from '../state/bench';
import { openVersion } from '../state/keeper';
import { Refusal } from '../state/server';
import { colour, surroundNames, type, WIDE } from '../theme/tokens';
import { compare, nextSurround, useView, Viewer } from '../viewer/Viewer';
import { fit, fullScale } from '../viewer/look';
import { PhoneDesk, WideDesk, WidePanel } from './Desk';
import { Panels } from './Panels';
import { TopBar, type Panel } from './TopBar';

/** The working screen: photo and desk. */
export function Bench({ versionId }: { versionId: string }) {
  const { width, height, scale } = useWindowDimensions();
  const [panel, setPanel] = useState<Panel>();
  const [rack, setRack] = useState(false);
  const [fault, setFault] = useState<Refusal>();
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
      setFault(error instanceof Refusal ? error : new Refusal({ code: 'internal', message: String(error), hint: 'Go back to the shelf.' })),
    );
  }, [versionId]);
  const photoId = loaded ? photo?.id : undefined;
  const edge = workingEdge({ width, height, scale });
  useEffect(() => (photoId ? showPhoto(photoId, edge) : undefined), [photoId, edge]);
  useEffect(() => () => useBench.setState({ versionId: '', photo: undefined }), []);
  useKeys();

  const wide = width >= WIDE;
  if (fault)
    return (
      <View style={styles.fault}>
        <Text style={type.title}>{fault.message}</Text>
        <Text style={type.body}>{fault.fault.hint}</Text>
        <Button label="Back to the shelf" onPress={() => router.replace('/')} />
      </View>
    );
  const viewer = photo ? <Viewer name={photo.name} fullWidth={photo.width} /> : <View style={styles.grow} />;
  return (
    <View style={styles.bench}>
      <TopBar onBack={() => (router.canGoBack() ? router.back() : router.replace('/'))} onPanel={setPanel} />
      {wide ? (
        <>
          <View style={styles.upper}>
            <View style={styles.grow}>
              {viewer}
              <Tools fullWidth={photo?.width ?? 1} />
            </View>
            <WidePanel rack={rack} onRackDone={() => setRack(false)} />
          </View>
          <WideDesk onRack={() => setRack(true)} />
        </>
      ) : (
        <>
          {viewer}
          <PhoneDesk room={height} tools={<Tools fullWidth={photo?.width ?? 1} />} />
        </>
      )}
      <HeldFigure />
      <Notice />
      <Panels panel={panel} onClose={() => setPanel(undefined)} onVersion={goTo} onExports={() => router.push('/exports')} />
    </View>
  );
}

/** One line of ways to look: original, zoom, surround. */
function Tools({ fullWidth }: { fullWidth: number }) {
  const { look, comparing, surround } = useView();
  const shown = usePreview(({ original }) => original);
  const zoomedIn = look.scale > 1.01;
  return (
    <Recede style={styles.tools}>
      <IconButton
        icon={Compare}
        label={comparing ? 'Show the result' : 'Show the original'}
        pressed={comparing}
        onPress={() => compare(!comparing)}
      />
      <IconButton
        icon={Scan}
        label={zoomedIn ? 'Fit the photo' : 'Zoom in'}
        pressed={zoomedIn}
        onPress={() => useView.setState({ look: zoomedIn ? fit : { scale: fullScale(fullWidth, (shown?.width ?? fullWidth) / 4), x: 0, y: 0 } })}
      />
      <IconButton icon={Frame} label={`Surround: ${surroundNames[surround]}. Change it`} onPress={nextSurround} />
    </Recede>
  );
}

/** A sentence for people, until it is tapped away. */
function Notice() {
  const notice = useBench((state) => state.notice);
  if (!notice) return null;
  return (
    <Pressable role="alert" aria-label={`${notice} Tap to close`} onPress={() => notify('')} style={styles.notice}>
      <Text style={type.body}>{notice}</Text>
      <Text style={[type.small, { color: colour.signalText }]}>Close</Text>
    </Pressable>
  );
}

/** Undo, redo, the original while held, and back to the desk, from the keyboard. */
function useKeys(): void {
  useEffect(() => {
    const typing = (event: KeyboardEvent): boolean => (event.target as HTMLElement | null)?.tagName === 'INPUT';
    const down = (event: KeyboardEvent): void => {
      if (typing(event)) return;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
      } else if (event.key === 'o' && !event.repeat) compare(true);
      else if (event.key === 'Escape') openChannel(undefined);
    };
    const up = (event: KeyboardEvent): void => {
      if (event.key === 'o') compare(false);
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, []);
}

const styles = StyleSheet.create({
  bench: { flex: 1, backgroundColor: colour.desk },
  upper: { flex: 1, flexDirection: 'row', minHeight: 0 },
  grow: { flex: 1 },
  tools: { flexDirection: 'row', justifyContent: 'space-around', alignItems: 'center', height: 46, backgroundColor: colour.desk },
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

import { useMemo, useRef } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import Svg, { Path, Rect } from 'react-native-svg';
import { histogramOf, outsideSrgb, regionAt, regions, spotAt, zoneNames, type Histogram as Counts, unit } from '@bexlen/core';
import { Recede } from '../controls/held';
import { hold, letGo } from '../state/held';
import { usePointer } from '../controls/usePointer';
import { usePreview } from '../engine/shown';
import { gamutOf } from '../state/wide';
import { region } from '../edits/layers';
import { useView } from '../state/view';
import { colour, radius, type, web } from '../theme/tokens';
import { say, decimal } from '../words';

const WIDTH = 196;
const HEIGHT = 78;
const ID = 'histogram';
/** A drag across so much of the histogram moves a region from nothing to its end. */
const FULL_PX = 120;
const LINES = [
  { key: 'red', stroke: '#c86f5e' },
  { key: 'green', stroke: '#79a36c' },
  { key: 'blue', stroke: '#6f92c9' },
] as const;

/** The tones of what is seen, over those of the photo. Drag a region to the side: a Tone layer at the end of the stack moves it. */
export function Histogram() {
  const image = usePreview(({ frame, original }) => frame?.image ?? original);
  const original = usePreview((state) => state.original);
  const now = useMemo(() => image && histogramOf(image), [image]);
  const before = useMemo(() => original && histogramOf(original), [original]);
  const drag = useRef<{ name: (typeof regions)[number]['name']; label: string; from: number; to: number }>(undefined);
  const ref = usePointer({
    down: ({ x, width, event }) => {
      event.stopPropagation();
      const { name, label } = regionAt(unit(x / width));
      const from = region.now(name);
      drag.current = { name, label, from, to: from };
    },
    move: ({ dx, event, y }) => {
      const it = drag.current;
      if (!it) return;
      it.to = Math.round(100 * Math.min(1, Math.max(-1, it.from + dx / FULL_PX))) / 100;
      hold(ID, { text: `${it.label} ${Math.round(it.to * 100)} %`, x: event.clientX, y: event.clientY - y + HEIGHT + 44 });
      region.show(it.name, it.to);
    },
    up: (_drag, moved) => {
      letGo();
      const it = drag.current;
      if (moved && it) region.keep(it.name, it.to);
    },
    cancel: () => {
      letGo();
      region.putBack();
    },
    key: (event) => {
      const i = '12345'.indexOf(event.key[event.key.length - 1] ?? 'x');
      const step = event.key === 'ArrowRight' ? 0.05 : event.key === 'ArrowLeft' ? -0.05 : 0;
      if (i >= 0 && regions[i]) drag.current = { name: regions[i].name, label: regions[i].label, from: 0, to: 0 };
      if (step === 0) return;
      event.preventDefault();
      const name = drag.current?.name ?? 'brightness';
      region.keep(name, Math.min(1, Math.max(-1, Math.round(100 * (region.now(name) + step)) / 100)));
    },
  });
  if (!now) return null;
  const most = Math.max(...now.luminance.subarray(2, 254), ...(before?.luminance.subarray(2, 254) ?? []), 1);
  return (
    <Recede mine={(id) => id === ID} style={[styles.box]}>
      <View
        ref={ref}
        role="slider"
        aria-label={say.viewer.histogramKeysToChooseBlacksShadows}
        aria-valuenow={0}
        aria-valuetext={say.viewer.percentClippedDarkPercentClippedLight(percent(now.clippedDark), percent(now.clippedLight))}
        tabIndex={0}
        style={web({ touchAction: 'none', cursor: 'ew-resize' })}
      >
        <Svg width={WIDTH} height={HEIGHT}>
          {regions.slice(0, -1).map(({ to }) => (
            <Rect key={to} x={to * WIDTH} y={0} width={1} height={HEIGHT} fill={colour.raised} />
          ))}
          <Path d={area(now.luminance, most)} fill={colour.edge} />
          {LINES.map(({ key, stroke }) => (
            <Path key={key} d={line(now[key], most)} stroke={stroke} strokeWidth={1} fill="none" />
          ))}
          {before && <Path d={line(before.luminance, most)} stroke={colour.tape} strokeWidth={1} strokeDasharray="3 2" fill="none" />}
        </Svg>
      </View>
      <Clipped counts={now} />
      {image && gamutOf(image) === 'display-p3' && <Wide image={image} />}
      <Probe image={image} original={original} />
    </Recede>
  );
}

/** Values of the place that is held, in the photo and now: red, green, blue, OKLab lightness, stops from middle grey. */
function Probe({ image, original }: { image: ImageData | undefined; original: ImageData | undefined }) {
  const probe = useView((state) => state.probe);
  if (!probe || !image || !original) return <Text style={type.small}>{say.viewer.holdThePhotoForItsValues}</Text>;
  const rows = [
    [say.viewer.photo, original],
    [say.viewer.now, image],
  ] as const;
  return rows.map(([label, picture]) => {
    const { rgb, lightness, stops, zone } = spotAt(picture, probe.u, probe.v, 1);
    const levels = rgb.map((value) => String(Math.round(value * 255)).padStart(3)).join(' ');
    return (
      <View key={label} style={styles.clipped}>
        <Text style={type.small}>{label}</Text>
        <Text
          style={styles.values}
        >{`${levels}  L${Math.round(lightness * 100)} ${stops > 0 ? '+' : '\u2212'}${decimal(Math.abs(stops), 1)} EV ${zoneNames[zone] ?? ''}`}</Text>
      </View>
    );
  });
}

const percent = (share: number): string => `${decimal(share * 100, share > 0 && share < 0.1 ? 1 : 0)} %`;

/** Of a picture in Display P3: what of it sRGB could not hold. */
function Wide({ image }: { image: ImageData }) {
  const outside = useMemo(() => outsideSrgb(image), [image]);
  return (
    <View style={styles.clipped}>
      <Text style={type.small}>Display P3</Text>
      <Text style={type.small}>{outside > 0 ? say.viewer.percentOutsideSrgb(percent(outside)) : say.viewer.allInsideSrgb}</Text>
    </View>
  );
}

function Clipped({ counts }: { counts: Counts }) {
  return (
    <View style={styles.clipped}>
      <Text style={[type.figure, counts.clippedDark > 0.001 && { color: colour.signalText }]}>{percent(counts.clippedDark)}</Text>
      <Text style={type.small}>{say.viewer.clipped}</Text>
      <Text style={[type.figure, counts.clippedLight > 0.001 && { color: colour.signalText }]}>{percent(counts.clippedLight)}</Text>
    </View>
  );
}

const point = (counts: Uint32Array, most: number) => (_: unknown, i: number) =>
  `${((i * 2) / 255) * WIDTH} ${(HEIGHT * (1 - Math.min(1, Math.sqrt(((counts[2 * i] as number) + (counts[2 * i + 1] as number)) / (2 * most))))).toFixed(1)}`;
const line = (counts: Uint32Array, most: number): string => `M${Array.from({ length: 128 }, point(counts, most)).join('L')}`;
const area = (counts: Uint32Array, most: number): string => `${line(counts, most)}L${WIDTH} ${HEIGHT}L0 ${HEIGHT}Z`;

const styles = StyleSheet.create({
  box: {
    position: 'absolute',
    left: 8,
    top: 8,
    padding: 6,
    borderRadius: radius.m,
    backgroundColor: 'rgba(27,27,27,0.88)',
  },
  values: { ...type.figure, fontSize: 11, ...web({ whiteSpace: 'pre' }) },
  clipped: { flexDirection: 'row', justifyContent: 'space-between', paddingTop: 2 },
});

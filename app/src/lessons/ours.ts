import { lookOf, type Look } from '@bexlen/core';
import { told, toldLook } from '../words';
import ortonGlow from './ours/orton-glow.json';
import infrared from './ours/infrared.json';
import mattePrint from './ours/matte-print.json';
import cinematicGrade from './ours/cinematic-grade.json';
import agedPrint from './ours/aged-print.json';
import miniature from './ours/miniature.json';
import windowLight from './ours/window-light.json';
import whitesAndVignette from './ours/whites-and-vignette.json';
import maskedSharpening from './ours/masked-sharpening.json';
import paintingLight from './ours/painting-light.json';
import secondPicture from './ours/second-picture.json';
import oneLookOnAShoot from './ours/one-look-on-a-shoot.json';

const files = [
  ortonGlow,
  infrared,
  mattePrint,
  cinematicGrade,
  agedPrint,
  miniature,
  windowLight,
  whitesAndVignette,
  maskedSharpening,
  paintingLight,
  secondPicture,
  oneLookOnAShoot,
];
let read: readonly Look[] | undefined;

/** Lessons for the work itself, each a look with a sentence for each of its layers; read when they are first wanted. Throws where one cannot be read. */
export const ourLessons = (): readonly Look[] =>
  (read ??= files.map((file) => {
    const { look, faults } = lookOf(file);
    if (!look) throw new Error(JSON.stringify(faults));
    return toldLook({ ...look, name: told(look.name) });
  }));

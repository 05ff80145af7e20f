import { Dimensions } from 'react-native';
import { whenIdle } from '../offline/idle';
import { useOpening } from '../state/opening';
import { workingEdge } from './device';
import { fetchAhead } from './pixels';
import { beginEngine } from './preview';
import { edgesOf } from './studio';

/** A page that was just opened shows its pictures first. */
const AFTER_MS = 1500;

/** Starts the engine when the page has nothing else to do, and fetches the pixels of a photo from when a finger lies on it. Returns how to stop. */
export function readyAhead(): () => void {
  // What goes wrong is told when a photo is opened.
  const callOff = whenIdle(AFTER_MS, () => void beginEngine().catch(() => undefined));
  const stop = useOpening.subscribe(({ photo }, before) => {
    if (!photo || photo === before.photo) return;
    edgesOf(workingEdge(Dimensions.get('window'), photo)).forEach(([, edge]) => fetchAhead(photo.id, edge));
  });
  return () => {
    callOff();
    stop();
  };
}

import { create } from 'zustand';
import { allLayers, folderOfLook, lookFile, lookOf, namedBy, type Look, type PlaceOfLook, type Stack } from '@bexlen/core';
import type { LookChange } from '@bexlen/api';
import { keepHabit, readHabit } from '../state/habits';
import { Refusal, sentenceOf, server } from '../state/server';
import { z } from 'zod';
import { say, toldLook } from '../words';

/** A look of the lookbook. */
export interface Shown {
  readonly id: string;
  readonly own: boolean;
  readonly favourite: boolean;
  readonly look: Look;
}

interface Book {
  readonly looks: readonly Shown[];
  readonly state: 'opening' | 'ready' | 'failed';
  /** What went wrong or was done last, in words. */
  readonly message: string;
  /** How a look is put on, until it is said otherwise. */
  readonly where: PlaceOfLook;
  /** Whether a photo is brought to where a look was made. */
  readonly fit: boolean;
  /** The look of which all is told. */
  readonly more: string | undefined;
  /** The look that was thrown away last, for as long as it can be taken back with one tap. */
  readonly removed: Shown | undefined;
}

export const useBook = create<Book>(() => ({
  looks: [],
  state: 'opening',
  message: '',
  where: 'over',
  fit: false,
  more: undefined,
  removed: undefined,
}));
const { setState } = useBook;

/** Reads the lookbook anew; what is there stays in sight meanwhile. */
export async function openBook(): Promise<void> {
  try {
    const { looks } = await server.looks();
    const read = looks.flatMap(({ file, ...one }): Shown[] => {
      const { look } = lookOf(file);
      return look ? [{ ...one, look: one.own ? look : toldLook(look) }] : [];
    });
    setState({
      looks: read,
      state: 'ready',
      message: read.length < looks.length ? say.looks.someLooksCouldNotBeRead : '',
    });
  } catch (error) {
    setState({ state: 'failed', message: sentenceOf(error) });
  }
}

/** Does something to the book, reads it anew, and says what went wrong. */
async function changing(act: () => Promise<unknown>): Promise<void> {
  try {
    await act();
    await openBook();
  } catch (error) {
    setState({ message: sentenceOf(error, say.looks.thatDidNotWorkTryAgain) });
  }
}

export const changeLook = (id: string, change: LookChange): Promise<void> => changing(() => server.changeLook(id, change));
export const removeLook = (shown: Shown): Promise<void> =>
  changing(async () => {
    await server.removeLook(shown.id);
    setState({ removed: shown });
  });
/** Takes the look back that was thrown away last. */
export const takeBack = ({ look }: Shown): Promise<void> =>
  changing(async () => {
    await server.addLooks(bytesOf(look));
    setState({ removed: undefined });
  });
const bytesOf = (look: Look): ArrayBuffer => new TextEncoder().encode(JSON.stringify(lookFile(look))).buffer as ArrayBuffer;

/** Takes looks in from files, each one all or nothing. */
export async function importLooks(files: readonly File[]): Promise<void> {
  const words: string[] = [];
  for (const file of files) {
    try {
      const { added, faults } = await server.addLooks(await file.arrayBuffer());
      if (faults.length === 0)
        words.push(say.looks.nameWhatTakenIn(file.name, added.length === 1 ? say.looks.oneLook : say.looks.countLooks(added.length)));
      else
        words.push(
          say.looks.nameWasNotTakenInMap(
            file.name,
            faults
              .slice(0, 3)
              .map(({ path, message }) => (path ? `${path}: ${message}` : message))
              .join(' '),
          ),
        );
    } catch (error) {
      words.push(sentenceOf(error, say.looks.nameCouldNotBeSent(file.name)));
    }
  }
  await openBook();
  setState({ message: words.join(' ') });
}

/** Keeps a stack as a look of one's own, with the strokes that it names. Throws the server's refusal. */
export async function keepLook(
  about: Pick<Look, 'name' | 'geometry'> & Partial<Pick<Look, 'folder' | 'note' | 'made'>>,
  stack: Stack,
): Promise<void> {
  const names = new Set(allLayers(stack.layers).flatMap((layer) => namedBy(layer, 'painting')));
  const paintings = await Promise.all([...names].map(server.painting));
  const strokes = new Map(paintings.flatMap((painting) => painting.strokes.map((painted) => [JSON.stringify(painted), painted] as const)));
  const look: Look = { ...about, fit: [], stack, strokes: [...strokes.values()], cubes: {} };
  const { faults } = await server.addLooks(bytesOf(look));
  const [fault] = faults;
  if (fault) throw new Refusal({ code: 'bad-version', message: fault.message, hint: say.looks.changeThatAndKeepItAgain });
  await openBook();
}

/** Folders in the order of the book: one's own first. */
export function foldersOf(looks: readonly Shown[]): string[] {
  return [...new Set(looks.map(folderOf))];
}
export const folderOf = ({ look }: Shown): string => folderOfLook(look);

const PHOTO = 'bexlen-lookbook-photo';
/** The photo on which looks are shown. */
export const photoOfBook = (): string => readHabit(PHOTO, z.string(), '');
export const showOn = (id: string): void => keepHabit(PHOTO, id);

/** The looks of a folder that are called so, favourites first. */
export function found(looks: readonly Shown[], folder: string | undefined, search: string): Shown[] {
  const wanted = search.trim().toLowerCase();
  return looks
    .filter((shown) => folder === undefined || (folder === FAVOURITES ? shown.favourite : folderOf(shown) === folder))
    .filter((shown) => `${shown.look.name} ${shown.look.note ?? ''} ${folderOf(shown)}`.toLowerCase().includes(wanted))
    .sort((a, b) => Number(b.favourite) - Number(a.favourite));
}
export const FAVOURITES = ' favourites';
export const clearWords = (): void => setState({ message: '' });

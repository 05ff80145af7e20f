import { proofsOf, type Family, type Kind, type Param, type ParamValue } from '@bexlen/core';

/** One cell of a proof sheet: what differs from the params that a new layer has, under a name, and how much of it is mixed in. */
export interface Setting {
  readonly label: string;
  readonly params: Readonly<Record<string, ParamValue>>;
  readonly strength: number;
}

/** Demo photos that show what a family does, for better or worse: skies, branches, deep shade, pale cloth, lamps. */
const FITTING: Record<Family, readonly string[]> = {
  tone: ['tower-path', 'gorge-falls', 'rehearsal-window'],
  colour: ['orchard-avenue', 'tower-path', 'puppet-portrait'],
  film: ['tower-path', 'puppet-portrait', 'lantern-lane'],
  light: ['rehearsal-window', 'lantern-lane', 'tower-path'],
  focus: ['tower-path', 'workbench', 'lantern-lane'],
  finish: ['tower-path', 'puppet-portrait', 'dunes'],
  picture: ['tower-path', 'lantern-lane', 'dunes'],
  hand: ['gorge-falls', 'tower-path', 'puppet-portrait'],
};
export const photosFor = ({ family }: Kind): readonly string[] => FITTING[family];

/** Params whose far ends are looked at, at most. */
const MOST_ENDS = 6;
const QUARTER = 0.25;

/** How a kind is looked at: as the rack shows it, a quarter of that, each of its main params at both ends, every option and every variant. */
export function settingsOf(kind: Kind): Setting[] {
  // What makes steps by itself is left out of kinds that do something else too.
  const calm = kind.id !== 'grain' && 'grain' in kind.params ? { grain: 0 } : {};
  const shown = { ...calm, ...kind.shown } as Record<string, ParamValue>;
  const shownAt = (name: string): ParamValue | undefined => shown[name] ?? kind.params[name]?.at;
  const setting = (label: string, params: Record<string, ParamValue>, strength = 1): Setting => ({ label, params, strength });
  const named = Object.keys(kind.shown ?? {});
  const others = (type: Param['type'], params: readonly (readonly [string, Param])[]): Setting[] =>
    params.flatMap(([name, param]) =>
      param.type === type
        ? proofsOf(param)
            .filter(({ value }) => value !== shownAt(name))
            .map(({ label, value }) => setting(label, { ...shown, [name]: value }))
        : [],
    );
  const all = Object.entries(kind.params);
  const main = all.filter(([name, { type }]) => type === 'number' && (named.length === 0 || named.includes(name) || all.length <= MOST_ENDS));
  const ends = others('number', main.slice(0, MOST_ENDS));
  const options = kind.variants ? [] : others('choice', all);
  const variants = (kind.variants ?? []).map(({ label, params }) => setting(label, { ...calm, ...params } as Record<string, ParamValue>));
  return [setting('As shown', shown), setting('A quarter of it', shown, QUARTER), ...ends, ...options, ...variants];
}

/** Kinds that are meant to make steps: grain, paper and brush strokes are such, and solarising turns tones round. */
const STEPPED = ['grain', 'solarise', 'brushwork', 'paper'];
export const makesSteps = ({ id }: Kind): boolean => STEPPED.includes(id);

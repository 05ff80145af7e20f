import { StyleSheet } from 'react-native';
import { figure, kindOf, type Board, type Five, type KindLayer, type NumberParam, type ParamValue } from '@bexlen/core';
import { BandsBoard } from './BandsBoard';
import { LevelsBoard } from './LevelsBoard';
import { MatrixBoard } from './MatrixBoard';
import { Recede } from '../controls/held';
import { usePreview } from '../engine/shown';
import { layerTarget } from '../edits/target';
import { say, inSentence } from '../words';

/** The drawings of a kind that show several of its params at once, for the leaf of its controls that is open. */
export function Boards({ layer, section }: { layer: KindLayer; section: string | undefined }) {
  const { boards = [] } = kindOf(layer.kind);
  return boards
    .filter((board) => board.section === undefined || board.section === section)
    .map((board) => <BoardOf key={`${board.board} ${board.section ?? ''}`} board={board} layer={layer} />);
}

function BoardOf({ board, layer }: { board: Board; layer: KindLayer }) {
  const tones = usePreview((state) => state.tones?.beneath);
  const target = layerTarget(layer);
  const { params } = target;
  const id = `${layer.id}-${board.board}-${board.section ?? ''}`;
  const own = board.params.map((name) => params[name] as NumberParam);
  const values = board.params.map((name, i) => Number(layer.params[name] ?? own[i]?.at));
  const name = (i: number): string => board.params[i] as string;
  const show = (i: number, value: number): void => target.show({ [name(i)]: value });
  const keep = (i: number, value: number): void => target.keep({ [name(i)]: value });
  const drawn = (() => {
    switch (board.board) {
      case 'levels': {
        const changed = (next: Five): Record<string, ParamValue> => Object.fromEntries(next.map((value, i) => [name(i), value]));
        const words = (next: Five): string => {
          const i = next.findIndex((value, at) => value !== values[at]);
          return i < 0 ? say.boards.levels : `${inSentence(own[i]?.label ?? '')} ${figure(own[i] as NumberParam, next[i] as number, 1)}`;
        };
        return (
          <LevelsBoard
            id={id}
            label={say.boards.levelsOfNameSection(layer.name, inSentence(board.section ?? say.boards.all))}
            value={values as unknown as Five}
            tones={tones}
            onShow={(next) => target.show(changed(next))}
            onKeep={(next) => target.keep(changed(next), words(next))}
          />
        );
      }
      case 'bands': {
        const bands = own.map(({ label, hue = 0 }, i) => ({ label, hue, value: values[i] as number }));
        const byName = (drawn: ReadonlyMap<number, number>): Record<string, number> =>
          Object.fromEntries([...drawn].map(([i, value]) => [name(i), value]));
        const keepAll = (drawn: ReadonlyMap<number, number>): void => {
          const [only] = drawn;
          if (only && drawn.size === 1) return keep(...only);
          target.keep(byName(drawn), [...drawn.keys()].map((i) => inSentence(bands[i]?.label ?? '')).join(', '));
        };
        return (
          <BandsBoard
            id={id}
            label={say.boards.sectionOfName(board.section ?? say.boards.hues, layer.name)}
            bands={bands}
            onShow={(drawn) => target.show(byName(drawn))}
            onKeep={keepAll}
          />
        );
      }
      case 'matrix': {
        const [first] = own;
        return (
          <MatrixBoard
            id={id}
            label={say.boards.matrixOfName(layer.name)}
            rows={board.rows}
            columns={board.columns}
            values={values}
            least={first?.min ?? -1}
            most={first?.max ?? 1}
            onShow={show}
            onKeep={keep}
          />
        );
      }
    }
  })();
  return (
    <Recede mine={(held) => held === id} style={styles.board}>
      {drawn}
    </Recede>
  );
}

const styles = StyleSheet.create({ board: { paddingBottom: 8 } });

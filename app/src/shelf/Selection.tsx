import { StyleSheet, Text, View } from 'react-native';
import { Button } from '../controls/Button';
import { colour, type } from '../theme/tokens';
import { say } from '../words';

interface Props {
  readonly count: number;
  /** They lie in the bin. */
  readonly inBin: boolean;
  readonly onLook: () => void;
  readonly onFiles: () => void;
  readonly onRoll: () => void;
  /** Into the bin, or out of it. */
  readonly onBin: () => void;
  readonly onDelete: () => void;
}

/** How many photos are selected, and what can be done with them. */
export function Selection({ count, inBin, onLook, onFiles, onRoll, onBin, onDelete }: Props) {
  return (
    <View role="group" aria-label={say.shelf.whatIsSelected} style={styles.acts}>
      <Text role="status" style={[type.label, styles.count]}>
        {count === 0 ? say.shelf.tapPhotosToSelectThem : say.shelf.countSelected(count)}
      </Text>
      {count > 0 && !inBin && (
        <>
          <Button label={say.shelf.look} says={say.shelf.lookForCount(count)} onPress={onLook} />
          <Button label="Files" says={say.shelf.filesOfCount(count)} onPress={onFiles} />
          <Button label={say.shelf.roll} says={say.shelf.putCountIntoARoll(count)} onPress={onRoll} />
          <Button label={say.shelf.bin} says={say.shelf.putCountIntoTheBin(count)} onPress={onBin} />
        </>
      )}
      {count > 0 && inBin && (
        <>
          <Button label={say.shelf.takeBack} says={say.shelf.takeCountBack(count)} onPress={onBin} />
          <Button label="Delete" says={say.shelf.deleteCountForGood(count)} onPress={onDelete} />
        </>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  acts: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 6,
    paddingHorizontal: 8,
    paddingVertical: 6,
    backgroundColor: colour.raised,
  },
  count: { flexGrow: 1, paddingHorizontal: 6, lineHeight: 40 },
});

import { StyleSheet, Text, View } from 'react-native';
import { Button } from '../controls/Button';
import { colour, type } from '../theme/tokens';

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
    <View role="group" aria-label="What is selected" style={styles.acts}>
      <Text role="status" style={[type.label, styles.count]}>
        {count === 0 ? 'Tap photos to select them.' : `${count} selected`}
      </Text>
      {count > 0 && !inBin && (
        <>
          <Button label="Look" says={`Look for ${count}`} onPress={onLook} />
          <Button label="Files" says={`Files of ${count}`} onPress={onFiles} />
          <Button label="Roll" says={`Put ${count} into a roll`} onPress={onRoll} />
          <Button label="Bin" says={`Put ${count} into the bin`} onPress={onBin} />
        </>
      )}
      {count > 0 && inBin && (
        <>
          <Button label="Take back" says={`Take ${count} back`} onPress={onBin} />
          <Button label="Delete" says={`Delete ${count} for good`} onPress={onDelete} />
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

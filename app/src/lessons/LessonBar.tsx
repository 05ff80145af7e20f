import { StyleSheet, Text, View } from 'react-native';
import X from 'lucide-react-native/icons/x';
import { Button, IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { colour, type } from '../theme/tokens';
import { endLesson, leaveOut, stepBack, takeStep, useLesson } from './lesson';
import { say } from '../words';

/** The step of the lesson on the bench: why it is taken, and what becomes of it. */
export function LessonBar({ wide = false }: { wide?: boolean }) {
  const lesson = useLesson((state) => state.lesson);
  const step = lesson?.steps[lesson.at];
  if (!lesson || !step) return null;
  const last = lesson.at === lesson.steps.length - 1;
  return (
    <Recede style={[styles.bar, wide && styles.wide]}>
      <View role="region" aria-label={say.lessons.lessonName(lesson.name)} style={[styles.words, wide && styles.grow]}>
        <View style={styles.head}>
          <Text style={type.figure}>{`${lesson.at + 1}/${lesson.steps.length}`}</Text>
          <Text style={[type.label, styles.grow]} numberOfLines={1}>
            {step.name}
          </Text>
          {!wide && <IconButton icon={X} label={say.lessons.endTheLesson} onPress={endLesson} />}
        </View>
        <Text role="status" style={type.body}>
          {step.says}
        </Text>
      </View>
      <View style={styles.acts}>
        <Button label={say.lessons.back} says={say.lessons.backToTheStepBefore} off={lesson.at === 0} onPress={stepBack} />
        <Button label={say.lessons.leaveOut} onPress={leaveOut} />
        <View style={styles.grow} />
        <Button strong label={last ? say.lessons.takeAndFinish : say.lessons.take} onPress={takeStep} />
        {wide && <IconButton icon={X} label={say.lessons.endTheLesson} onPress={endLesson} />}
      </View>
    </Recede>
  );
}

const styles = StyleSheet.create({
  bar: {
    paddingLeft: 14,
    paddingRight: 8,
    paddingVertical: 8,
    gap: 8,
    backgroundColor: colour.desk,
    borderTopWidth: 3,
    borderTopColor: colour.signal,
  },
  wide: { flexDirection: 'row', alignItems: 'center', gap: 16, borderTopWidth: 0, borderBottomWidth: 1, borderBottomColor: colour.signal },
  words: { gap: 2 },
  grow: { flex: 1, minWidth: 0 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 30 },
  acts: { flexDirection: 'row', alignItems: 'center', gap: 8 },
});

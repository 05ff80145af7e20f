import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { colour, radius, type } from '../theme/tokens';
import { beginLesson } from './lesson';
import { ourLessons } from './ours';
import { say } from '../words';

/** Lessons for the work itself, each built on the photo that is open. */
export function Lessons({ onBegin }: { onBegin: () => void }) {
  return (
    <ScrollView contentContainerStyle={styles.list}>
      <Text style={type.small}>{say.lessons.eachIsBuiltOnThisPhoto}</Text>
      {ourLessons().map((look) => (
        <Pressable
          key={look.name}
          role="button"
          aria-label={say.lessons.openLesson(look.name)}
          onPress={() => {
            onBegin();
            beginLesson(look);
          }}
          style={({ pressed }) => [styles.lesson, pressed && styles.pressed]}
        >
          <View style={styles.head}>
            <Text style={[type.label, styles.grow]}>{look.name}</Text>
            <Text style={type.figure}>{say.lessons.countSteps(look.stack.layers.length)}</Text>
          </View>
          <Text style={type.small}>{look.note}</Text>
        </Pressable>
      ))}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  list: { padding: 12, gap: 8 },
  lesson: { padding: 12, gap: 2, borderRadius: radius.m, backgroundColor: colour.raised },
  pressed: { opacity: 0.8 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  grow: { flex: 1 },
});

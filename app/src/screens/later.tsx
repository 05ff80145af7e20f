import { lazy, type ComponentType, type LazyExoticComponent } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from '../controls/Button';
import { colour, type } from '../theme/tokens';
import { loadAnew } from '../offline/page';
import { say } from '../words';

/** A screen that the shelf can do without: its code comes behind the rest. */
export interface Later<P extends object> {
  readonly Screen: LazyExoticComponent<ComponentType<P>>;
  /** Fetches its code before it is wanted. */
  readonly fetch: () => void;
}

/** @param load the module of a screen. Where it cannot be had, as after the server was brought up to date, the screen says so. */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): Later<P> {
  return {
    Screen: lazy(async () => ({ default: await load().catch(() => Missing) })),
    // What goes wrong is told when the screen is opened.
    fetch: () => void load().catch(() => undefined),
  };
}

function Missing() {
  return (
    <View role="alert" style={styles.missing}>
      <Text style={[type.title, styles.centred]}>{say.screens.thisScreenCouldNotBeLoaded}</Text>
      <Text style={[type.body, styles.centred]}>{say.screens.theServerMayBeAwayOr}</Text>
      <Button strong label={say.screens.reload} onPress={() => void loadAnew()} />
    </View>
  );
}

const styles = StyleSheet.create({
  missing: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 16, padding: 24, backgroundColor: colour.desk },
  centred: { textAlign: 'center' },
});

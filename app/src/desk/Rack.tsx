import { useEffect, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { change, families, kinds, type Family, type Kind, type KindId, type ParamValue, type PartId, type Stack } from '@bexlen/core';
import Star from 'lucide-react-native/icons/star';
import { Button } from '../controls/Button';
import { SmallPicture } from '../controls/Picture';
import { Recede } from '../controls/held';
import { Search } from '../controls/Search';
import { useBench } from '../state/bench';
import { useWhere, type Ahead } from '../state/byHand';
import { favouritesFirst, toggleFavourite, useFavourites } from '../state/favourites';
import { colour, familyMarks, radius, touch, type } from '../theme/tokens';
import { add, withNew } from '../edits/layers';
import { useSmalls } from '../engine/small';
import { say } from '../words';

/** The stack as it would be with a kind added, at the values under which the rack shows it. */
function shownStack(kind: Kind): Stack {
  const { stack, layer } = withNew(kind.id as KindId);
  const { shown } = kind;
  return shown
    ? change(stack, layer.id, (it) => (it.kind === 'group' ? it : { ...it, params: { ...it.params, ...(shown as Record<string, ParamValue>) } }))
    : stack;
}

/** Where the next layer lands, if a place was chosen. */
const LANDS: Partial<Record<PartId, string>> = {
  spot: say.desk.landsOnWhatYouTapped,
  oval: say.desk.landsInTheOvalGoTo,
  brush: say.desk.landsWhereYouPainted,
};

/** The same place the other way round: all but it. */
const turnedOut = (ahead: Ahead): Ahead => ({ ...ahead, part: { ...ahead.part, inverted: !ahead.part.inverted } });

/** Where a new layer is chosen: kinds by family, each as the open photo with that kind applied. One tap adds and opens. */
export function Rack({ onAdded }: { onAdded: () => void }) {
  const [family, setFamily] = useState<Family>();
  const [search, setSearch] = useState('');
  const history = useBench((state) => state.history);
  const list = kinds as unknown as readonly Kind[];
  const pictures = useSmalls(history, (i) => list[i] && shownStack(list[i]));
  const present = families.filter(({ id }) => list.some((kind) => kind.family === id));
  const ahead = useWhere((state) => state.ahead);
  useEffect(() => {
    useWhere.setState({ choosing: true });
    return () => useWhere.setState({ choosing: false, ahead: undefined });
  }, []);
  const wanted = search.trim().toLowerCase();
  const favourites = useFavourites((state) => state.kinds);
  const found = favouritesFirst(list, favourites).filter(
    (kind) => (!family || kind.family === family) && `${kind.label} ${kind.note} ${kind.family}`.toLowerCase().includes(wanted),
  );
  return (
    <Recede style={styles.rack}>
      <View style={styles.head}>
        <Search label={say.desk.searchTheRack} value={search} onChange={setSearch} />
        <View style={styles.landing}>
          <Text role="status" style={[type.small, styles.words]}>
            {ahead ? LANDS[ahead.part.part] : say.desk.tapThePhotoOrDrawOn}
          </Text>
          {ahead && (
            <>
              <Button label={say.desk.outside} pressed={ahead.part.inverted} onPress={() => useWhere.setState({ ahead: turnedOut(ahead) })} />
              <Button label={say.desk.everywhere} onPress={() => useWhere.setState({ ahead: undefined })} />
            </>
          )}
        </View>
        <View role="radiogroup" aria-label={say.desk.family} style={styles.tabs}>
          {present.map(({ id, label }) => (
            <Pressable
              key={id}
              role="radio"
              aria-checked={family === id}
              aria-label={label}
              onPress={() => setFamily(family === id ? undefined : id)}
              style={[styles.tab, family === id && styles.tabOn]}
            >
              <View style={[styles.stripe, { backgroundColor: familyMarks[id].hue }]} />
              <Text style={type.label}>{label}</Text>
            </Pressable>
          ))}
        </View>
      </View>
      <ScrollView contentContainerStyle={styles.grid}>
        {found.map((kind) => (
          <View key={kind.id} style={styles.kind}>
            <Pressable
              role="button"
              aria-label={say.desk.addLabelCaption(kind.label, kind.note)}
              onPress={() => {
                add(kind.id as KindId);
                onAdded();
              }}
              style={({ pressed }) => pressed && styles.pressed}
            >
              <View style={styles.picture}>
                <SmallPicture of={pictures} at={list.indexOf(kind)} />
              </View>
              <View style={styles.name}>
                <View style={[styles.stripe, { backgroundColor: familyMarks[kind.family].hue }]} />
                <View style={styles.words}>
                  <Text style={type.label}>{`${kind.label} `}</Text>
                  <Text style={type.small} numberOfLines={2}>
                    {kind.note}
                  </Text>
                </View>
              </View>
            </Pressable>
            <Pressable
              role="button"
              aria-label={say.desk.labelAsAFavourite(kind.label)}
              aria-pressed={favourites.includes(kind.id)}
              onPress={() => toggleFavourite(kind.id)}
              style={styles.star}
            >
              <Star
                size={17}
                strokeWidth={1.6}
                color={favourites.includes(kind.id) ? colour.signal : colour.tape}
                fill={favourites.includes(kind.id) ? colour.signal : 'rgba(0,0,0,0.35)'}
              />
            </Pressable>
          </View>
        ))}
        {found.length === 0 && <Text style={[type.body, styles.none]}>{say.desk.noKindIsCalledThatClear}</Text>}
      </ScrollView>
    </Recede>
  );
}

const styles = StyleSheet.create({
  rack: { flex: 1 },
  head: { paddingHorizontal: 12, paddingTop: 8, gap: 8 },
  landing: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 20 },
  tabs: { flexDirection: 'row', gap: 6 },
  tab: { minHeight: touch, paddingHorizontal: 12, flexDirection: 'row', alignItems: 'center', gap: 8, borderRadius: radius.m },
  tabOn: { backgroundColor: colour.raised },
  stripe: { width: 4, height: 18 },
  grid: { flexDirection: 'row', flexWrap: 'wrap', padding: 12, gap: 10 },
  kind: { flexGrow: 1, flexBasis: 104, maxWidth: 150, borderRadius: radius.m, overflow: 'hidden', backgroundColor: colour.raised },
  pressed: { opacity: 0.75 },
  star: { position: 'absolute', right: 0, top: 0, width: touch, height: touch, alignItems: 'flex-end', padding: 6 },
  picture: { height: 84, backgroundColor: colour.well },
  name: { flexDirection: 'row', gap: 8, padding: 8 },
  words: { flex: 1 },
  none: { padding: 8 },
});

import { useEffect } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import {
  asItCame,
  atRatio,
  isAsItCame,
  isUpright,
  mirrored,
  pictureSize,
  quarterTurn,
  ratios,
  shareRatio,
  turned,
  wholeCrop,
  type RatioId,
} from '@bexlen/core';
import Flip from 'lucide-react-native/icons/square-centerline-dashed-horizontal';
import Portrait from 'lucide-react-native/icons/rectangle-vertical';
import Ruler from 'lucide-react-native/icons/ruler';
import TurnLeft from 'lucide-react-native/icons/rotate-ccw-square';
import TurnRight from 'lucide-react-native/icons/rotate-cw-square';
import { Button, Choice, IconButton } from '../controls/Button';
import { Recede } from '../controls/held';
import { useFraming } from '../engine/shown';
import { useBench } from '../state/bench';
import { space, type } from '../theme/tokens';
import { fit } from '../state/look';
import { useFrame, useView } from '../state/view';
import { geometry as desk } from '../edits/layers';
import { geometryTarget } from '../edits/target';
import { ParamEditors } from '../params/ParamEditor';
import { say, inSentence } from '../words';

/** Crop, straighten, turn, mirror and perspective: what comes before the first layer. */
export function Framing({ onDone }: { onDone: () => void }) {
  const photo = useBench((state) => state.photo);
  const stack = useBench((state) => state.stack());
  const { geometry } = stack;
  const { ratio, drawing } = useFrame();
  useEffect(() => {
    useFraming.setState({ framing: true });
    useView.setState({ look: fit, split: false, toneDrag: undefined });
    return () => {
      useFraming.setState({ framing: false });
      useFrame.setState({ drawing: false });
    };
  }, []);
  if (!photo) return null;
  const size = pictureSize(geometry, photo);
  const hold = (id: RatioId, upright: boolean): void => {
    useFrame.setState({ ratio: id });
    const share = shareRatio(id, turned(geometry, photo), upright);
    if (share === undefined) return;
    const crop = atRatio(wholeCrop, share);
    desk.keep({ crop }, say.bench.cropLabel(inSentence(ratios.find((each) => each.id === id)?.label ?? '')));
  };
  const upright = isUpright(geometry, photo);
  return (
    <ScrollView contentContainerStyle={styles.page}>
      <Recede style={styles.head}>
        <View style={styles.grow}>
          <Text style={type.title}>{say.bench.cropAndStraighten}</Text>
          <Text style={type.figure} aria-label={say.bench.widthByHeightPixels(size.width, size.height)}>{`${size.width} × ${size.height} px`}</Text>
        </View>
        <Button label={say.bench.asItCame} off={isAsItCame(geometry)} onPress={() => desk.keep(asItCame, say.bench.asItCameNoCrop)} />
        <Button label={say.bench.done} strong onPress={onDone} />
      </Recede>
      <Recede style={styles.row}>
        <ScrollView horizontal showsHorizontalScrollIndicator={false} style={styles.grow}>
          <Choice label={say.bench.ratio} options={ratios} value={ratio} onChoose={(id) => hold(id, upright)} />
        </ScrollView>
        <IconButton
          icon={Portrait}
          label={upright ? say.bench.layTheCropOnItsLong : say.bench.standTheCropOnItsShort}
          pressed={upright}
          off={ratio === 'free' || ratio === 'own' || ratio === '1'}
          onPress={() => hold(ratio, !upright)}
        />
      </Recede>
      <ParamEditors target={geometryTarget(stack)} />
      <Recede style={styles.row}>
        <IconButton icon={TurnLeft} label={say.bench.turnLeft} onPress={() => desk.turn((before) => quarterTurn(before, -1), say.bench.turnedLeft)} />
        <IconButton
          icon={TurnRight}
          label={say.bench.turnRight}
          onPress={() => desk.turn((before) => quarterTurn(before, 1), say.bench.turnedRight)}
        />
        <IconButton icon={Flip} label={say.bench.mirror} pressed={geometry.mirrored} onPress={() => desk.turn(mirrored, say.bench.mirrored)} />
        <View style={styles.grow} />
        <Button
          icon={Ruler}
          label={drawing ? say.bench.drawItOnThePhoto : say.bench.drawALevelLine}
          strong={drawing}
          onPress={() => useFrame.setState({ drawing: !drawing })}
        />
      </Recede>
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  page: { paddingBottom: space.m, gap: 2 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, paddingBottom: 4 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: space.m, minHeight: 48 },
  grow: { flex: 1 },
});

import { useEffect, useState } from 'react';
import { buildUp } from '@bexlen/core';
import Pause from 'lucide-react-native/icons/pause';
import Play from 'lucide-react-native/icons/play';
import { IconButton } from '../controls/Button';
import { useBench, inForce, notify } from '../state/bench';
import { say } from '../words';

/** How long each step is seen. */
const STEP_MS = 1100;

/** Plays the stack step by step, from the photo to the result, with the name of each. Pressed again it pauses; at the end all is as it was. */
export function BuildUp({ word }: { word?: string | undefined }) {
  const [playing, setPlaying] = useState(false);
  const [step, setStep] = useState(0);
  const history = useBench((state) => state.history);
  const steps = buildUp(inForce(history));
  useEffect(() => {
    if (!playing) return;
    const now = steps[step];
    if (!now) {
      useBench.setState({ draft: undefined });
      notify('');
      setPlaying(false);
      setStep(0);
      return;
    }
    useBench.setState({ draft: now.stack });
    notify(say.bench.stepOfCountName(step, steps.length - 1, now.name));
    const timer = setTimeout(() => setStep(step + 1), STEP_MS);
    return () => clearTimeout(timer);
    // The steps follow from the history, which any change replaces.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [playing, step, history]);
  useEffect(
    () => () => {
      setPlaying(false);
      setStep(0);
    },
    [history],
  );
  return (
    <IconButton
      icon={playing ? Pause : Play}
      label={playing ? say.bench.pauseTheBuildUp : say.bench.buildUpStepByStep}
      word={word}
      pressed={playing}
      off={steps.length < 2}
      onPress={() => setPlaying(!playing)}
    />
  );
}

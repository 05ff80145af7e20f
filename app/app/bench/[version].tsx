import { useLocalSearchParams } from 'expo-router';
import { Bench } from '../../src/bench/Bench';

export default function BenchRoute() {
  const { version } = useLocalSearchParams<{ version: string }>();
  return <Bench versionId={version} />;
}

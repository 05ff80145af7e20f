import { useLocalSearchParams } from 'expo-router';
import { bench } from '../../src/screens/screens';

export default function BenchRoute() {
  const { version } = useLocalSearchParams<{ version: string }>();
  return <bench.Screen versionId={version} />;
}

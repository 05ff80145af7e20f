import { StyleSheet, TextInput, type StyleProp, type TextStyle } from 'react-native';
import { colour, radius, touch, type, web } from '../theme/tokens';

interface Props {
  /** What it says while nothing is typed, and to screen readers. */
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly style?: StyleProp<TextStyle>;
}

/** A field for what is searched for. */
export function Search({ label, value, onChange, style }: Props) {
  return (
    <TextInput
      value={value}
      onChangeText={onChange}
      placeholder={label}
      placeholderTextColor={colour.quiet}
      aria-label={label}
      style={[type.label, styles.search, style]}
    />
  );
}

const styles = StyleSheet.create({
  search: { height: touch, paddingHorizontal: 12, backgroundColor: colour.well, borderRadius: radius.m, ...web({ outlineStyle: 'none' }) },
});

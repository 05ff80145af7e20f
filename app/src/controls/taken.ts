import type { TextInput } from 'react-native';

/** Takes a field as soon as it is there, with all that stands in it: what is typed without waiting takes the place of that, and does not go behind it. To be given as its ref. */
export const taken = (field: TextInput | null): void => {
  field?.focus();
  (field as unknown as Partial<HTMLInputElement> | null)?.select?.();
};

import { useRef, type ReactNode } from 'react';

/** A field for files that is not seen; whoever has it opens it by a button of its own. */
export function useFiles(
  label: string,
  accept: string,
  take: (files: File[]) => void,
  several = false,
): { readonly field: ReactNode; readonly choose: () => void } {
  const ref = useRef<HTMLInputElement>(null);
  const field = (
    <input
      ref={ref}
      type="file"
      multiple={several}
      accept={accept}
      aria-label={label}
      tabIndex={-1}
      style={{ display: 'none' }}
      onChange={({ target }) => {
        take([...(target.files ?? [])]);
        // The same file may be chosen again.
        target.value = '';
      }}
    />
  );
  return { field, choose: () => ref.current?.click() };
}

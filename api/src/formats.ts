/** A format of finished files: what there is to choose, and what such a file is called. Its encoder is in images/encode.ts. */
export interface FileFormat {
  readonly id: FormatId;
  readonly label: string;
  readonly ending: string;
  readonly type: string;
  readonly depths: readonly (8 | 16)[];
  /** Depth and quality unless chosen. */
  readonly depth: 8 | 16;
  readonly quality?: number;
  /** Pixels along a side at most. */
  readonly mostSide: number;
}
/** Formats of pictures that are written. */
export type FormatId = 'jpeg' | 'png' | 'tiff' | 'webp' | 'avif';

/** All of them, in the order in which they are offered. */
export const fileFormats: readonly FileFormat[] = [
  { id: 'jpeg', label: 'JPEG', ending: 'jpg', type: 'image/jpeg', depths: [8], depth: 8, quality: 92, mostSide: 65_500 },
  { id: 'png', label: 'PNG', ending: 'png', type: 'image/png', depths: [8, 16], depth: 8, mostSide: 65_500 },
  { id: 'tiff', label: 'TIFF', ending: 'tif', type: 'image/tiff', depths: [8, 16], depth: 16, mostSide: 65_500 },
  { id: 'webp', label: 'WebP', ending: 'webp', type: 'image/webp', depths: [8], depth: 8, quality: 90, mostSide: 16_383 },
  { id: 'avif', label: 'AVIF', ending: 'avif', type: 'image/avif', depths: [8], depth: 8, quality: 70, mostSide: 16_384 },
];

/** The format of an id, which must be one. */
export const formatOf = (id: string): FileFormat => fileFormats.find((format) => format.id === id) as FileFormat;
/** By what comes behind the dot of a file name. */
export const formatByEnding = (ending: string): FileFormat | undefined =>
  fileFormats.find((format) => format.ending === ending || format.id === ending);

/** Endings of files of sensors' own values that are developed. */
export const rawEndings = ['dng', 'cr2', 'cr3', 'nef', 'arw', 'raf', 'orf', 'rw2', 'pef'] as const;
/** Endings of all files that are taken in as photos. */
export const photoEndings = ['jpg', 'jpeg', 'png', 'tif', 'tiff', 'webp', 'avif', 'heic', 'heif', 'hif', 'ora', ...rawEndings] as const;

/** What comes behind the last dot of a file name, in small letters; nothing where there is no dot. */
export const endingOf = (fileName: string): string => /\.([^.]+)$/.exec(fileName)?.[1]?.toLowerCase() ?? '';
export const isRawName = (fileName: string): boolean => (rawEndings as readonly string[]).includes(endingOf(fileName));
export const isPhotoName = (fileName: string): boolean => (photoEndings as readonly string[]).includes(endingOf(fileName));

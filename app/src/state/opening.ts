import { create } from 'zustand';
import type { Photo, VersionSummary } from '@bexlen/api';
import { versionThumbUrl } from './server';

interface Opening {
  /** The version that was pressed last on the shelf. */
  readonly version: VersionSummary | undefined;
  readonly photo: Photo | undefined;
}

/** What is about to be opened: the shelf writes it, the engine gets ready for it. */
export const useOpening = create<Opening>(() => ({ version: undefined, photo: undefined }));

export const aboutToOpen = (photo: Photo, version: VersionSummary | undefined): void => useOpening.setState({ photo, version });

/** Address of the small picture of a version: the one that was seen before it was opened, where it was, which is at hand then. */
export function smallPictureUrl(versionId: string): string {
  const { version } = useOpening.getState();
  return version?.id === versionId ? versionThumbUrl(version) : `/api/versions/${encodeURIComponent(versionId)}/thumb`;
}

import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, sendForm, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

export type MediaFile = Schemas['MediaView'];
export type MediaItem = Schemas['MediaItem'];
export type MediaSort = 'picture' | 'video' | 'document';

/** Sides in which the server gives small pictures. */
type Side = 160 | 320 | 640 | 1280;

/** The file itself; with a side, a small picture of it. */
export const mediaAddress = (workspace: string, media: string, side?: Side) =>
  `/api/workspaces/${workspace}/media/${media}${side ? `?side=${side}` : ''}`;

/** The file as networks get it: that part of a picture, without its place, date and maker. */
export const sentAddress = (workspace: string, media: string, crop?: Schemas['Crop'] | null) =>
  `${mediaAddress(workspace, media)}?sent=true${crop ? `&crop=${crop.x},${crop.y},${crop.width},${crop.height}` : ''}`;

export const isPicture = (file: MediaFile) => file.kind.startsWith('image/');

/** What may be chosen, for the browser's own file field. */
export const acceptedKinds: Record<MediaSort, string> = {
  picture: 'image/png,image/jpeg,image/webp,image/gif',
  video: 'video/mp4',
  document: 'application/pdf',
};

export const megabytes = (bytes: number) =>
  bytes >= 1_000_000 ? `${(bytes / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} kB`;

/** What a file is like, in one line. */
export function factsWords(file: MediaFile): string {
  const parts = [];
  if (file.width > 0) parts.push(`${file.width} × ${file.height}`);
  if (file.frames > 1) parts.push(`${file.frames} pictures in motion`);
  if (file.seconds !== null) parts.push(lengthWords(file.seconds));
  if (file.pages !== null) parts.push(`${file.pages} ${file.pages === 1 ? 'page' : 'pages'}`);
  return [...parts, megabytes(file.bytes)].join(' · ');
}

const lengthWords = (seconds: number) =>
  seconds < 60
    ? `${seconds.toFixed(seconds < 10 ? 1 : 0)} s`
    : `${Math.floor(seconds / 60)}:${String(Math.round(seconds % 60)).padStart(2, '0')} min`;

export interface MediaFilter {
  search: string;
  sort: string;
  shape: string;
  use: string;
}

export const anyMedia: MediaFilter = { search: '', sort: '', shape: '', use: '' };
const pageSize = 60;

/** Files of the workspace, newest first, page by page. */
export function useMediaList(filter: MediaFilter) {
  const { id, path } = useWorkspacePath();
  const given = Object.fromEntries(Object.entries(filter).filter(([, value]) => value));
  return useInfiniteQuery({
    queryKey: ['media', id, 'list', given],
    placeholderData: keepPreviousData,
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/media', {
          params: { path, query: { ...given, skip: pageParam, take: pageSize } },
        }),
      ),
    getNextPageParam: (last, all) => {
      const there = all.reduce((sum, page) => sum + page.items.length, 0);
      return there < last.total && last.items.length > 0 ? there : undefined;
    },
  });
}

/** What is known of a file. */
export function useMediaFacts(media: string | null) {
  const { id } = useWorkspacePath();
  return useQuery({
    queryKey: ['media', id, 'facts', media],
    enabled: media !== null,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/media/{id}/facts', {
          params: { path: { workspaceId: id, id: media ?? '' } },
        }),
      ),
    staleTime: 60_000,
  });
}

export function useMediaUses(media: string) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['media', id, 'uses', media],
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/media/{id}/uses', { params: { path: { ...path, id: media } } })),
  });
}

/** What each network takes of a picture. */
export function useCropChoices(media: string) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['media', id, 'crops', media],
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/media/{id}/crops', { params: { path: { ...path, id: media } } })),
    staleTime: 60_000,
  });
}

export function useDescribeMedia(media: string) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas['MediaRequest']) =>
      ask(api.PUT('/api/workspaces/{workspaceId}/media/{id}', { params: { path: { ...path, id: media } }, body })),
    onSuccess: () => refresh(client, id, ['media']),
  });
}

/** Takes files out that nothing uses, and offers to bring them back. */
export function useRemoveMedia() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  const { trouble } = useNotices();
  return useMutation({
    mutationFn: (files: string[]) =>
      ask(api.POST('/api/workspaces/{workspaceId}/media/removal', { params: { path }, body: { files } })),
    onSuccess: (done, files) => {
      tellUndoable(files.length === 1 ? 'The file is out.' : `${files.length} files are out.`, done.changeSetId);
      return refresh(client, id, ['media']);
    },
    onError: (error) => trouble(wordsOf(error)),
  });
}

/** Lets a picture stand for a video. */
export function useSetPoster(video: string) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  return useMutation({
    mutationFn: (picture: string) =>
      ask(
        api.PUT('/api/workspaces/{workspaceId}/media/{id}/poster', {
          params: { path: { ...path, id: video } },
          body: { picture },
        }),
      ),
    onSuccess: () => refresh(client, id, ['media']),
    onError: (error) => trouble(wordsOf(error)),
  });
}

/** Draws a picture from a video at a moment, and lets it stand for it. Nothing is lost where the browser can’t play it. */
export async function drawPoster(workspace: string, video: MediaFile, at?: number): Promise<void> {
  const picture = await frameOf(mediaAddress(workspace, video.id), at ?? Math.min(1, (video.seconds ?? 2) / 2));
  const form = new FormData();
  form.append('file', new File([picture], 'poster.jpg', { type: 'image/jpeg' }));
  await sendForm('POST', `${mediaAddress(workspace, video.id)}/poster`, form);
}

const longestPoster = 1280;

function frameOf(address: string, at: number): Promise<Blob> {
  return new Promise((resolve, reject) => {
    const video = document.createElement('video');
    const fail = () => reject(new Error('This browser can’t show the video. Choose a picture to stand for it.'));
    video.muted = true;
    video.preload = 'auto';
    video.onerror = fail;
    video.onloadedmetadata = () => {
      video.currentTime = at;
    };
    video.onseeked = () => {
      const scale = Math.min(1, longestPoster / Math.max(video.videoWidth, video.videoHeight));
      const canvas = document.createElement('canvas');
      canvas.width = Math.round(video.videoWidth * scale);
      canvas.height = Math.round(video.videoHeight * scale);
      canvas.getContext('2d')?.drawImage(video, 0, 0, canvas.width, canvas.height);
      canvas.toBlob((blob) => (blob ? resolve(blob) : fail()), 'image/jpeg', 0.85);
      video.removeAttribute('src');
    };
    video.src = address;
  });
}

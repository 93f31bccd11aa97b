import { useMutation, useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas, sendForm } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';

export const mediaAddress = (workspace: string, media: string) => `/api/workspaces/${workspace}/media/${media}`;

/** What is said of a file that the server doesn’t look into. */
interface Facts {
  width?: number;
  height?: number;
  seconds?: number;
  pages?: number;
}

/** What is known of a file. */
export function useMediaFacts(media: string) {
  const { id } = useWorkspacePath();
  return useQuery({
    queryKey: ['media', id, media],
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/media/{id}/facts', { params: { path: { workspaceId: id, id: media } } }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Size and length of a video, as the browser reads them. */
export function videoFacts(file: File): Promise<Facts> {
  return new Promise((resolve, reject) => {
    const video = document.createElement('video');
    const address = URL.createObjectURL(file);
    const end = (act: () => void) => {
      URL.revokeObjectURL(address);
      act();
    };
    video.preload = 'metadata';
    video.onloadedmetadata = () =>
      end(() => resolve({ width: video.videoWidth, height: video.videoHeight, seconds: video.duration }));
    video.onerror = () => end(() => reject(new Error('This video can’t be read here. Save it as MP4 and try again.')));
    video.src = address;
  });
}

export function useAddMedia() {
  const { id } = useWorkspacePath();
  return useMutation({
    mutationFn: ({ file, facts = {} }: { file: File; facts?: Facts }) => {
      const form = new FormData();
      form.append('file', file);
      for (const [name, value] of Object.entries(facts)) form.append(name, String(value));
      return sendForm<Schemas['MediaView']>('POST', `/api/workspaces/${id}/media`, form);
    },
  });
}

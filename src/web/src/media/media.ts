import { useMutation } from '@tanstack/react-query';
import { type Schemas, sendForm } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';

export const mediaAddress = (workspace: string, media: string) => `/api/workspaces/${workspace}/media/${media}`;

export function useAddMedia() {
  const { id } = useWorkspacePath();
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append('file', file);
      return sendForm<Schemas['MediaView']>('POST', `/api/workspaces/${id}/media`, form);
    },
  });
}

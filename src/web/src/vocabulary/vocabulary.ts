import { useQuery } from '@tanstack/react-query';
import { api, ask } from '../api/client';

/** What is declared once on the server: kinds of figures, with their names on screens. */
export function useVocabulary() {
  return useQuery({
    queryKey: ['vocabulary'],
    queryFn: () => ask(api.GET('/api/vocabulary')),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

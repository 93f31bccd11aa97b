import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, Problem, type Schemas } from '../api/client';

export type Session = Schemas['SessionView'];

/** Who is signed in; null for nobody. */
export function useSession() {
  return useQuery({
    queryKey: ['session'],
    queryFn: async () => {
      try {
        return await ask(api.GET('/api/session'));
      } catch (error) {
        if (error instanceof Problem && error.status === 401) return null;
        throw error;
      }
    },
    staleTime: 60_000,
  });
}

export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas['SignIn']) => ask(api.POST('/api/session', { body })),
    onSuccess: () => client.invalidateQueries(),
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => ask(api.DELETE('/api/session')),
    onSuccess: () => {
      client.clear();
      window.location.assign('/');
    },
  });
}

import { useQuery } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext } from 'react';
import { api, ask, type Schemas } from '../api/client';

export type Network = Schemas['NetworkRules'];

export function useNetworks() {
  return useQuery({
    queryKey: ['networks'],
    queryFn: () => ask(api.GET('/api/networks')),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

const Known = createContext<readonly Network[]>([]);

/** Asked for once for all that names a network: marks stand by the dozen on every view. */
export function NetworksProvider({ children }: { children: ReactNode }) {
  return <Known value={useNetworks().data ?? none}>{children}</Known>;
}

const none: readonly Network[] = [];

export function useNetwork(key: string): Network | undefined {
  return useContext(Known).find((n) => n.key === key);
}

/** A mark is one line in a box of 24 × 24, drawn in the colour of the text around it. */
export function Mark({ path, size, name }: { path: string; size: number; name?: string }) {
  return (
    <svg
      viewBox="0 0 24 24"
      width={size}
      height={size}
      className="shrink-0"
      role="img"
      aria-label={name ?? 'mark'}
      aria-hidden={name === undefined}
    >
      <path d={path} fill="none" stroke="currentColor" strokeWidth="2.2" strokeLinecap="round" strokeLinejoin="round" />
    </svg>
  );
}

export function NetworkMark({ network, size = 16 }: { network: string; size?: number }) {
  const rules = useNetwork(network);
  return <Mark path={rules?.mark ?? ''} size={size} name={rules?.name ?? network} />;
}

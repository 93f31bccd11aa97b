import type { ReactNode } from 'react';
import { wordsOf } from '../api/client';
import { Button } from './Button';

/** What stands where there is nothing yet: it teaches the next step. */
export function Empty({ title, children, act }: { title: string; children?: ReactNode; act?: ReactNode }) {
  return (
    <div className="max-w-prose border-rule border-t py-6">
      <h2>{title}</h2>
      {children && <div className="mt-1 text-faded">{children}</div>}
      {act && <div className="mt-4">{act}</div>}
    </div>
  );
}

export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="py-6 text-faded">
      Fetching {what} …
    </p>
  );
}

export function Failed({ error, retry }: { error: unknown; retry: () => void }) {
  return (
    <div role="alert" className="max-w-prose border-bad border-l-4 bg-bad-wash px-4 py-3">
      <p>{wordsOf(error)}</p>
      <Button className="mt-2" onClick={retry}>
        Try again
      </Button>
    </div>
  );
}

interface QueryLike<T> {
  data: T | undefined;
  error: unknown;
  refetch: () => unknown;
}

/** Shows what a query brought, or how it stands. */
export function Fetched<T>({
  query,
  what,
  children,
}: {
  query: QueryLike<T>;
  what: string;
  children: (data: T) => ReactNode;
}) {
  if (query.data !== undefined) return children(query.data);
  if (query.error) return <Failed error={query.error} retry={() => void query.refetch()} />;
  return <Waiting what={what} />;
}

/** What is shown while the answer to another question is under way: the old one, faded, and said to be so. */
export function Renewing({ renewing, children }: { renewing: boolean; children: ReactNode }) {
  return (
    <div aria-busy={renewing} className="aria-busy:opacity-50">
      {children}
    </div>
  );
}

import { wordsOf } from '../api/client';

/** What kept a form from being saved, in the server's words. */
export function FormError({ error }: { error: unknown }) {
  if (error === null || error === undefined) return null;
  return (
    <p role="alert" className="text-bad">
      {wordsOf(error)}
    </p>
  );
}

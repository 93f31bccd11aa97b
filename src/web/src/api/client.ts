import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];

/** An answer that isn't a success, in the server's words (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

type Listener = () => void;
const signedOutListeners = new Set<Listener>();
const notFoundListeners = new Set<Listener>();

/** Calls the listener whenever an answer says that the session has run out. Returns how to stop. */
export function onSignedOut(listener: Listener): () => void {
  signedOutListeners.add(listener);
  return () => signedOutListeners.delete(listener);
}

/** Calls the listener whenever an answer says that something isn't there, or isn't this person's to see. Returns how to stop. */
export function onNotFound(listener: Listener): () => void {
  notFoundListeners.add(listener);
  return () => notFoundListeners.delete(listener);
}

const noAnswer = 'The server gives no answer just now. What you typed is kept; try again in a moment.';

async function fetchOrProblem(request: Request): Promise<Response> {
  try {
    return await fetch(request);
  } catch {
    throw new Problem(0, noAnswer);
  }
}

export const api = createClient<paths>({ baseUrl: '', fetch: fetchOrProblem });

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The answer's content; throws a Problem for anything but success. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await call;
  if (response.ok) return data as T;
  throw problemOf(response.status, error);
}

function problemOf(status: number, error: unknown): Problem {
  if (status === 401) for (const listener of signedOutListeners) listener();
  if (status === 404) for (const listener of notFoundListeners) listener();
  const detail = (error as { detail?: string } | undefined)?.detail;
  return new Problem(status, detail ?? (status >= 500 ? noAnswer : `The server answered with ${status}.`));
}

/** Sends files; the types don't know forms, so the caller says what comes back. */
export async function sendForm<T>(
  method: 'POST' | 'PUT',
  path: string,
  form: FormData,
  signal?: AbortSignal,
): Promise<T> {
  const response = await fetchOrProblem(new Request(path, { method, body: form, signal: signal ?? null }));
  const body: unknown = await response.json().catch(() => undefined);
  if (!response.ok) throw problemOf(response.status, body);
  return body as T;
}

export function wordsOf(error: unknown): string {
  return error instanceof Error ? error.message : 'Something went wrong. Try again.';
}

// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { useExchange, usePlanAct } from './acts';
import type { Entry } from './lineup';
import { useOccurrenceActs } from './occurrences';

// What is sent says what was seen; what moves stands there at once, and goes back where it can't.
const fetched = vi.fn();
const trouble = vi.fn();
const tell = vi.fn();

vi.mock('../workspaces/workspace', () => ({ useWorkspacePath: () => ({ id: 'w1', path: { workspaceId: 'w1' } }) }));
vi.mock('../ui/Notices', () => ({ useNotices: () => ({ tell, trouble }) }));

const place = {
  key: 's1:2026-12-05:c1',
  deliveryId: null,
  postId: 'p1',
  title: 'One waxwing',
  channelId: 'c1',
  date: '2026-12-05',
  time: '09:30:00',
  revision: 71,
  origin: { kind: 'place', id: 's1', date: '2026-12-05' },
  may: ['moveThisOne'],
} as unknown as Entry;
const delivery = {
  ...place,
  key: 'd1',
  deliveryId: 'd1',
  postId: 'p2',
  title: 'Two terns',
  date: '2026-12-06',
  revision: 3,
  may: ['move'],
} as unknown as Entry;

function hook<T>(use: () => T) {
  const client = new QueryClient({ defaultOptions: { mutations: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return { client, ...renderHook(use, { wrapper }) };
}

const answer = (status: number, body: unknown) =>
  fetched.mockImplementation(() =>
    Promise.resolve(new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })),
  );

async function sent() {
  const request = fetched.mock.calls[0]?.[0] as Request;
  return { address: new URL(request.url).pathname, match: request.headers.get('If-Match'), body: await request.json() };
}

beforeEach(() => {
  vi.stubGlobal('fetch', fetched);
  for (const mock of [fetched, trouble, tell]) mock.mockReset();
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

test('two that change places are named as they were seen', async () => {
  answer(200, { changeSetId: 'a', against: ['“Two terns” is meant for another time.'] });
  const { result } = hook(useExchange);
  await act(() => result.current.mutateAsync({ one: place, other: delivery }));
  expect((await sent()).body).toEqual({
    channelId: 'c1',
    one: { delivery: null, place: { slotId: 's1', date: '2026-12-05', revision: 71 }, postId: 'p1' },
    other: { delivery: { id: 'd1', revision: 3 }, place: null, postId: 'p2' },
  });
  expect(tell.mock.calls[0]?.[0]).toBe(
    '“One waxwing” and “Two terns” have changed places. Against it: “Two terns” is meant for another time.',
  );
});

test('a place of several channels is chosen once, with what was decided about it', async () => {
  answer(200, { done: 2, leftOut: [], remarks: [], changeSetId: 'a' });
  const { result } = hook(usePlanAct);
  const other = { ...place, key: 's1:2026-12-05:c2', channelId: 'c2' };
  await act(() =>
    result.current.mutateAsync({ act: 'cancel', entries: [place, other, delivery], words: (n) => `${n} cancelled.` }),
  );
  expect((await sent()).body).toMatchObject({
    deliveries: [{ id: 'd1', revision: 3 }],
    places: [{ slotId: 's1', date: '2026-12-05', revision: 71 }],
  });
  expect(tell.mock.calls[0]?.[0]).toBe('2 cancelled.');
});

test('of many reasons a few are told', async () => {
  const many = (what: string) => Array.from({ length: 9 }, (_, i) => `${what} ${i}.`);
  answer(200, { done: 9, leftOut: many('Left'), remarks: many('Close'), changeSetId: 'a' });
  const { result } = hook(usePlanAct);
  await act(() => result.current.mutateAsync({ act: 'cancel', entries: [delivery], words: () => 'Done.' }));
  expect(tell.mock.calls.map(([words]) => words)).toEqual([
    'Done. Close 0. Close 1. Close 2. …',
    '9 were left as they are. Left 0. Left 1. Left 2. …',
  ]);
});

test('what is moved stands at its new time at once, and at its old one when that is refused', async () => {
  const { client, result } = hook(usePlanAct);
  client.setQueryData(['lineUp', 'w1', 'week'], { entries: [place, delivery] });
  const seen = () =>
    client
      .getQueryData<{ entries: Entry[] }>(['lineUp', 'w1', 'week'])
      ?.entries.map((e) => `${e.key} ${e.date} ${e.time.slice(0, 5)}`);
  let refuse = (_: Response) => {};
  fetched.mockImplementation(() => new Promise<Response>((done) => (refuse = done)));
  act(() =>
    result.current.mutate({ act: 'shift', entries: [place, delivery], days: 2, minutes: -30, words: () => 'Moved.' }),
  );
  await vi.waitFor(() => expect(seen()).toEqual(['s1:2026-12-05:c1 2026-12-07 09:00', 'd1 2026-12-08 09:00']));
  await vi.waitFor(() => expect(fetched).toHaveBeenCalled());
  refuse(
    new Response(JSON.stringify({ detail: 'Somebody else changed both.' }), {
      status: 409,
      headers: { 'content-type': 'application/problem+json' },
    }),
  );
  await vi.waitFor(() => expect(trouble).toHaveBeenCalledWith('Somebody else changed both.'));
  expect(seen()).toEqual(['s1:2026-12-05:c1 2026-12-05 09:30', 'd1 2026-12-06 09:30']);
});

test('who decides about a place says which decision was seen; nought, where there is none', async () => {
  answer(200, { changeSetId: 'a' });
  const { result } = hook(useOccurrenceActs);
  await act(() => result.current.decide.mutateAsync({ entry: place, edit: { isSkipped: true }, words: 'Skipped.' }));
  expect(await sent()).toMatchObject({
    address: '/api/workspaces/w1/line-up/occurrences/s1/2026-12-05',
    match: '"71"',
    body: { isSkipped: true },
  });
  fetched.mockClear();
  const fresh = { ...place, revision: null } as unknown as Entry;
  await act(() => result.current.decide.mutateAsync({ entry: fresh, edit: { note: 'x' }, words: 'Noted.' }));
  expect((await sent()).match).toBe('"0"');
});

test('two places are exchanged on all their channels, whatever goes out on the others', async () => {
  answer(200, { changeSetId: 'a', against: [] });
  const { result } = hook(useExchange);
  const fresh = { ...place, revision: null } as unknown as Entry;
  await act(() => result.current.mutateAsync({ one: place, other: fresh, everywhere: true }));
  expect((await sent()).body).toEqual({
    channelId: null,
    one: { delivery: null, place: { slotId: 's1', date: '2026-12-05', revision: 71 }, postId: null },
    other: { delivery: null, place: { slotId: 's1', date: '2026-12-05', revision: 0 }, postId: null },
  });
});

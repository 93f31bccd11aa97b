// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Problem } from '../../api/client';
import { noLayers } from '../../posts/content';
import type { NetworkCheck, Post, PostEdit } from '../../posts/posts';
import { keepDraft, readDraft } from './drafts';
import { useDesk } from './useDesk';

// What the desk saves by itself, and what it never does: each state of it, without a server.
const save = vi.fn();
const check = vi.hoisted(() => ({ data: [] as NetworkCheck[] | undefined, isPlaceholderData: false, isError: false }));

vi.mock('../../posts/posts', async (original) => ({
  ...(await original<typeof import('../../posts/posts')>()),
  useCheck: () => check,
  useSavePost: () => ({ mutateAsync: save }),
}));
vi.mock('../../workspaces/workspace', () => ({ useWorkspacePath: () => ({ id: 'w1' }) }));

const post = (version: number, title: string, more: Partial<Post> = {}) =>
  ({
    id: 'p1',
    version,
    title,
    stage: 'draft',
    checks: [],
    content: { ...noLayers, common: { text: 'One waxwing.' }, wordings: [] },
    ...more,
  }) as unknown as Post;
const blank = {
  title: '',
  stage: 'draft',
  content: { ...noLayers, common: {}, wordings: [] },
} as unknown as PostEdit;
const onCreated = vi.fn();

function open(first: Post | null) {
  const client = new QueryClient();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return renderHook(({ of }: { of: Post | null }) => useDesk(of, blank, onCreated), {
    wrapper,
    initialProps: { of: first },
  });
}

type Desk = ReturnType<typeof open>;

const type = (desk: Desk, title: string) => act(() => desk.result.current.change({ title }));
const wait = (milliseconds: number) => act(() => vi.advanceTimersByTimeAsync(milliseconds));
const standing = (desk: Desk) => desk.result.current.standing.kind;

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
  save.mockReset();
  onCreated.mockReset();
  Object.assign(check, { data: [], isPlaceholderData: false, isError: false });
});

afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

test('what is typed is kept here at once, and saved after a pause over the version that was read', async () => {
  save.mockResolvedValue(post(4, 'Waxwings'));
  const desk = open(post(3, 'Waxwing'));
  type(desk, 'Waxwings');
  expect(standing(desk)).toBe('typing');
  expect(readDraft('w1', 'p1')).toMatchObject({ version: 3, edit: { title: 'Waxwings' } });
  await wait(600);
  expect(save).not.toHaveBeenCalled();
  await wait(200);
  expect(save).toHaveBeenCalledExactlyOnceWith({
    id: 'p1',
    version: 3,
    edit: expect.objectContaining({ title: 'Waxwings' }),
  });
  expect(standing(desk)).toBe('saved');
  expect(readDraft('w1', 'p1')).toBeNull();
});

test('what is typed while it saves is saved next, over the version that came of it', async () => {
  let answer: (saved: Post) => void = () => {};
  save.mockImplementationOnce(() => new Promise((resolve) => (answer = resolve)));
  save.mockResolvedValueOnce(post(5, 'Waxwings again'));
  const desk = open(post(3, 'Waxwing'));
  type(desk, 'Waxwings');
  await wait(700);
  expect(standing(desk)).toBe('saving');
  type(desk, 'Waxwings again');
  await wait(5000);
  expect(save).toHaveBeenCalledTimes(1);
  await act(async () => answer(post(4, 'Waxwings')));
  await wait(700);
  expect(save).toHaveBeenLastCalledWith({
    id: 'p1',
    version: 4,
    edit: expect.objectContaining({ title: 'Waxwings again' }),
  });
  expect(desk.result.current.edit.title).toBe('Waxwings again');
  expect(standing(desk)).toBe('saved');
});

test('a server that gives no answer is tried again by itself, and nothing typed is lost meanwhile', async () => {
  save.mockRejectedValueOnce(new Problem(0, 'No answer.'));
  save.mockResolvedValueOnce(post(4, 'Waxwings'));
  const desk = open(post(3, 'Waxwing'));
  type(desk, 'Waxwings');
  await wait(700);
  expect(desk.result.current.standing).toEqual({ kind: 'failed', words: 'No answer.', again: true });
  expect(readDraft('w1', 'p1')).toMatchObject({ edit: { title: 'Waxwings' } });
  await wait(4100);
  expect(save).toHaveBeenCalledTimes(2);
  expect(standing(desk)).toBe('saved');
});

test('what the server refuses is said once, and tried again only when something else is typed', async () => {
  save.mockRejectedValueOnce(new Problem(400, 'Too long.'));
  save.mockResolvedValueOnce(post(4, 'Short'));
  const desk = open(post(3, 'Waxwing'));
  type(desk, 'Waxwings');
  await wait(700);
  expect(desk.result.current.standing).toEqual({ kind: 'failed', words: 'Too long.', again: false });
  await wait(60_000);
  expect(save).toHaveBeenCalledTimes(1);
  type(desk, 'Short');
  await wait(700);
  expect(standing(desk)).toBe('saved');
});

test.each([412, 409])(
  "somebody else's version is a conflict (%i) that a person ends: mine goes over theirs",
  async (status) => {
    save.mockRejectedValueOnce(new Problem(status, 'Outdated.'));
    save.mockResolvedValueOnce(post(8, 'Mine'));
    const desk = open(post(3, 'Waxwing'));
    type(desk, 'Mine');
    await wait(700);
    expect(standing(desk)).toBe('conflict');
    await wait(60_000);
    expect(save).toHaveBeenCalledTimes(1);
    desk.rerender({ of: post(7, 'Theirs') });
    await act(async () => desk.result.current.keepMine());
    expect(save).toHaveBeenLastCalledWith({ id: 'p1', version: 7, edit: expect.objectContaining({ title: 'Mine' }) });
    expect(standing(desk)).toBe('saved');
  },
);

test('or theirs is taken, and what was typed here is let go of', async () => {
  save.mockRejectedValueOnce(new Problem(412, 'Outdated.'));
  const desk = open(post(3, 'Waxwing'));
  type(desk, 'Mine');
  await wait(700);
  desk.rerender({ of: post(7, 'Theirs') });
  act(() => desk.result.current.takeTheirs());
  expect(desk.result.current.edit.title).toBe('Theirs');
  expect(standing(desk)).toBe('saved');
  expect(readDraft('w1', 'p1')).toBeNull();
  await wait(60_000);
  expect(save).toHaveBeenCalledTimes(1);
});

test("a colleague's version comes in by itself while nothing is typed, and is a conflict while something is", () => {
  const desk = open(post(3, 'Waxwing'));
  desk.rerender({ of: post(4, 'Theirs') });
  expect(desk.result.current.edit.title).toBe('Theirs');
  type(desk, 'Mine');
  desk.rerender({ of: post(5, 'Theirs again') });
  expect(standing(desk)).toBe('conflict');
  expect(desk.result.current.edit.title).toBe('Mine');
});

test('what would withdraw an approval is asked about, and saved only then', async () => {
  const approved = { network: 'jot', approved: true } as NetworkCheck;
  check.data = [{ network: 'jot', approved: false } as NetworkCheck];
  save.mockResolvedValue(post(4, 'Waxwings', { stage: 'ready', checks: [approved] as Post['checks'] }));
  const desk = open(post(3, 'Waxwing', { stage: 'ready', checks: [approved] as Post['checks'] }));
  type(desk, 'Waxwings');
  expect(desk.result.current.standing).toEqual({ kind: 'asks', networks: ['jot'] });
  await wait(60_000);
  expect(save).not.toHaveBeenCalled();
  await act(async () => desk.result.current.saveAllTheSame());
  expect(save).toHaveBeenCalledTimes(1);
});

test('nothing is saved before it is known what that does to approvals, unless that cannot be known', async () => {
  save.mockResolvedValue(post(4, 'Waxwings', { stage: 'ready' }));
  Object.assign(check, { data: undefined });
  const desk = open(post(3, 'Waxwing', { stage: 'ready' }));
  type(desk, 'Waxwings');
  await wait(60_000);
  expect(save).not.toHaveBeenCalled();
  Object.assign(check, { isError: true });
  type(desk, 'Waxwings!');
  await wait(700);
  expect(save).toHaveBeenCalledTimes(1);
});

test('what was typed in an earlier visit comes back: to be saved over the same version, as a conflict over a newer one', () => {
  const edit = { ...blank, title: 'From before' };
  keepDraft('w1', 'p1', { version: 3, edit });
  expect(open(post(3, 'Waxwing')).result.current).toMatchObject({
    edit: { title: 'From before' },
    standing: { kind: 'typing' },
  });
  cleanup();
  keepDraft('w1', 'p1', { version: 3, edit });
  expect(open(post(4, 'Theirs')).result.current).toMatchObject({
    edit: { title: 'From before' },
    standing: { kind: 'conflict' },
  });
});

test('a new post is made once there is a word of it, and told', async () => {
  save.mockResolvedValue(post(1, 'Waxwing'));
  const desk = open(null);
  type(desk, '   ');
  await wait(60_000);
  expect(save).not.toHaveBeenCalled();
  type(desk, 'Waxwing');
  await wait(700);
  expect(save).toHaveBeenCalledExactlyOnceWith({
    id: null,
    version: 0,
    edit: expect.objectContaining({ title: 'Waxwing' }),
  });
  expect(onCreated).toHaveBeenCalledExactlyOnceWith('p1');
});

// @vitest-environment happy-dom
import { beforeEach, expect, test, vi } from 'vitest';
import { Problem } from '../../api/client';
import { noLayers } from '../../posts/content';
import type { Post, PostEdit } from '../../posts/posts';
import { DeskStore } from './deskStore';
import { readDraft } from './drafts';

// The desk against a server that answers late, in the wrong order, not at all, or with somebody else's version: nothing typed is lost.
const settings = { stage: 'draft', content: { ...noLayers, common: {}, wordings: [] } } as unknown as PostEdit;
const edit = (title: string): PostEdit => ({ ...settings, title });
const post = (version: number, title: string) => ({ ...settings, id: 'p1', version, title }) as unknown as Post;

const quiet = { onSaved: () => {}, onCreated: () => {}, onOutdated: () => {} };

/** A small generator of our own, so that a failing run can be had again. */
function chanceOf(seed: number) {
  let state = seed * 2654435761 + 1;
  return (below: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

/** A server that keeps versions as ours does, and whose line can be cut. */
class Server {
  version = 0;
  title = '';
  isAway = false;
  saves = 0;
  readonly #chance: (below: number) => number;

  constructor(chance: (below: number) => number) {
    this.#chance = chance;
  }

  readonly save = async ({ version, edit: sent }: { id: string | null; version: number; edit: PostEdit }) => {
    const lost = this.isAway ? 1 : this.#chance(8);
    await new Promise((resolve) => setTimeout(resolve, this.#chance(1500)));
    if (lost === 1) throw new Problem(0, 'No answer.');
    if (version !== this.version) throw new Problem(412, 'Outdated.');
    this.version++;
    this.saves++;
    this.title = sent.title;
    return post(this.version, sent.title);
  };

  /** A colleague saves. */
  write(title: string): Post {
    this.version++;
    this.title = title;
    return post(this.version, title);
  }
}

beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
});

test('whatever happens, what was typed last is what is kept', async () => {
  for (let seed = 0; seed < 200; seed++) await live(seed);
});

async function live(seed: number) {
  localStorage.clear();
  const chance = chanceOf(seed);
  const server = new Server(chance);
  const store = new DeskStore('w1', null, edit(''), {
    save: server.save,
    ...quiet,
  });
  const stop = store.subscribe(() => {});
  let typed = '';
  for (let step = 0; step < 25; step++) {
    const what = chance(10);
    if (what < 5) {
      typed = `words ${seed} ${step}`;
      store.change({ title: typed });
    } else if (what === 5) server.isAway = !server.isAway;
    else if (what === 6 && server.version > 0) store.arrived(server.write(`theirs ${step}`));
    else if (what === 7) void store.saveWith({}).catch(() => {});
    else if (what === 8 && store.snapshot().standing.kind === 'conflict') store.keepMine();
    await vi.advanceTimersByTimeAsync(chance(2500));
    // At every moment the desk shows what was typed last, or what a colleague wrote after all of that was saved.
    const shown = store.snapshot().edit.title;
    if (shown !== typed) {
      expect(shown).toMatch(/^theirs/);
      typed = shown;
    }
    // What the server hasn't got is kept here.
    if (store.isUnsaved) expect(readDraft('w1', store.snapshot().id ?? 'new')?.edit.title).toBe(typed);
  }
  server.isAway = false;
  for (let i = 0; i < 40 && store.snapshot().standing.kind !== 'saved'; i++) {
    if (store.snapshot().standing.kind === 'conflict') {
      store.arrived(post(server.version, server.title));
      store.keepMine();
    }
    await vi.advanceTimersByTimeAsync(5000);
  }
  expect(store.snapshot().standing.kind).toBe('saved');
  if (typed) expect(server.title).toBe(typed);
  stop();
}

test('an act saves what was typed up to then, and what is typed meanwhile afterwards', async () => {
  const server = new Server(() => 0);
  const store = new DeskStore('w1', null, edit(''), {
    save: server.save,
    ...quiet,
  });
  store.subscribe(() => {});
  store.change({ title: 'First' });
  const saved = store.saveWith({ stage: 'ready' });
  await Promise.resolve();
  store.change({ title: 'Second' });
  await vi.advanceTimersByTimeAsync(0);
  expect((await saved).title).toBe('First');
  await vi.advanceTimersByTimeAsync(710);
  expect([server.title, server.saves, store.snapshot().standing.kind]).toEqual(['Second', 2, 'saved']);
});

test("a colleague's version that comes while this one's is refused is the one that a person then chooses against", async () => {
  const server = new Server(() => 0);
  const store = new DeskStore('w1', post(1, 'Read'), edit(''), {
    save: server.save,
    ...quiet,
  });
  store.subscribe(() => {});
  server.version = 1;
  store.change({ title: 'Mine' });
  const saved = store.saveWith({}).catch(() => {});
  store.arrived(server.write('Theirs'));
  await vi.advanceTimersByTimeAsync(10);
  await saved;
  expect(store.snapshot().standing.kind).toBe('conflict');
  store.keepMine();
  await vi.advanceTimersByTimeAsync(10);
  expect([server.title, store.snapshot().standing.kind]).toEqual(['Mine', 'saved']);
});

test('two acts at once are one after the other', async () => {
  const server = new Server(() => 0);
  const store = new DeskStore('w1', null, edit(''), {
    save: server.save,
    ...quiet,
  });
  store.subscribe(() => {});
  store.change({ title: 'Once' });
  const both = Promise.all([store.saveWith({ stage: 'ready' }), store.saveWith({ stage: 'ready' })]);
  await vi.advanceTimersByTimeAsync(10);
  expect((await both).map((p) => p.version)).toEqual([1, 2]);
});

test("an act waits for nobody's decision: with two versions it is refused", async () => {
  const store = new DeskStore('w1', post(1, 'Mine'), edit(''), {
    save: () => Promise.reject(new Problem(412, 'Outdated.')),
    ...quiet,
  });
  store.subscribe(() => {});
  store.change({ title: 'Mine, changed' });
  await vi.advanceTimersByTimeAsync(700);
  expect(store.snapshot().standing.kind).toBe('conflict');
  await expect(store.saveWith({ stage: 'ready' })).rejects.toThrow('choose one of the two first');
});

test('without a category nothing is sent, all is kept in the browser, and it is saved once there is one', async () => {
  const server = new Server(() => 2);
  const begun = { ...edit(''), categoryId: '' };
  const store = new DeskStore('w', null, begun, { ...quiet, save: server.save });
  const stop = store.subscribe(() => {});
  store.change({ title: 'Typed before' });
  await vi.advanceTimersByTimeAsync(10_000);
  expect([server.saves, store.snapshot().standing.kind]).toEqual([0, 'uncategorised']);
  expect(readDraft('w', 'new')?.edit.title).toBe('Typed before');
  await expect(store.saveWith({})).rejects.toThrow('Choose a category first.');
  store.change({ categoryId: 'c' });
  await vi.advanceTimersByTimeAsync(10_000);
  expect([server.saves, server.title]).toEqual([1, 'Typed before']);
  stop();
});

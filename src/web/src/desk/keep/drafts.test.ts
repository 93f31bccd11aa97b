import { beforeEach, expect, test, vi } from 'vitest';
import { noLayers } from '../../posts/content';
import type { PostEdit } from '../../posts/posts';
import { dropDraft, keepDraft, readDraft } from './drafts';

const edit = {
  title: 'Waxwing',
  content: { ...noLayers, common: { text: 'One waxwing.' }, wordings: [] },
} as unknown as PostEdit;
const kept = new Map<string, string>();

beforeEach(() => {
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
    removeItem: (key: string) => kept.delete(key),
  });
});

test('a draft comes back as it was, with the version it was typed over', () => {
  keepDraft('w1', 'p1', { version: 3, edit });
  expect(readDraft('w1', 'p1')).toEqual({ version: 3, edit });
});

test('drafts of two posts, and of two workspaces, are kept apart', () => {
  keepDraft('w1', 'new', { version: 0, edit });
  expect(readDraft('w2', 'new')).toBeNull();
  expect(readDraft('w1', 'p1')).toBeNull();
});

test.each([
  ['wordings', '"wordings":[{"text":"b","picture":{"mediaId":null}}]'],
  ['the first name of wordings', '"alternates":[{"text":"b","picture":{"mediaId":null}}]'],
])('a draft from before content lay in layers keeps all of it, with %s', (_, wordings) => {
  kept.set(
    'able-lark:draft:w1:p1',
    `{"version":3,"edit":{"title":"W","content":{"text":"a","link":null,"pictureId":"m1","variants":{"jot":{"text":"c","picture":null}},${wordings}}}}`,
  );
  expect(readDraft('w1', 'p1')?.edit.content).toEqual({
    common: { text: 'a', pictures: [{ media: 'm1' }] },
    networks: { jot: { text: 'c' } },
    channels: {},
    wordings: [{ common: { text: 'b', pictures: null }, networks: {}, channels: {} }],
  });
});

test('a draft from when a post had one picture keeps it, with its alt text', () => {
  const layers = (common: string, networks: string) => `"common":${common},"networks":${networks},"channels":{}`;
  kept.set(
    'able-lark:draft:w1:p1',
    `{"version":3,"edit":{"content":{${layers('{"picture":"m1","altText":"a sea"}', '{"meadow":{"altText":"calm"},"jot":{"picture":null}}')},"wordings":[{${layers('{"picture":"m2"}', '{}')}}]}}}`,
  );
  expect(readDraft('w1', 'p1')?.edit.content).toEqual({
    common: { pictures: [{ media: 'm1', altText: 'a sea' }] },
    networks: { meadow: { pictures: [{ media: 'm1', altText: 'calm' }] }, jot: { pictures: null } },
    channels: {},
    wordings: [{ common: { pictures: [{ media: 'm2', altText: 'a sea' }] }, networks: {}, channels: {} }],
  });
});

test('a draft that was saved is gone', () => {
  keepDraft('w1', 'p1', { version: 3, edit });
  dropDraft('w1', 'p1');
  expect(readDraft('w1', 'p1')).toBeNull();
});

test('a draft that can not be read, or a store that is full, stops nobody', () => {
  kept.set('able-lark:draft:w1:p1', '{half');
  expect(readDraft('w1', 'p1')).toBeNull();
  vi.stubGlobal('localStorage', {
    setItem: () => {
      throw new Error('full');
    },
  });
  expect(() => keepDraft('w1', 'p1', { version: 1, edit })).not.toThrow();
});

import { expect, test } from 'vitest';
import { inheritedAt, noLayers, type PostContent, saidAt, saying } from '../posts/content';
import { joined, splitAt } from './content/thread';
import { taking } from './networks/useFit';
import { movedMarks, segmentsOf } from './text/marks';
import { triggerAt } from './text/trigger';
import { actWords, hindrance, type Prospect } from './when/when';

const content: PostContent = {
  ...noLayers,
  common: { text: 'all', link: 'l' },
  networks: { jot: { text: 'jot' } },
  channels: { c1: { text: 'one' } },
  wordings: [{ common: { text: 'second' }, networks: { jot: { link: 'other' } }, channels: {} }],
};

test('a field is inherited from the nearest place that says it, a wording before the post', () => {
  expect(inheritedAt(content, { wording: 0, network: 'jot' })).toEqual({ text: 'all', link: 'l' });
  expect(inheritedAt(content, { wording: 0, network: 'jot', channel: 'c1' })).toEqual({ text: 'jot', link: 'l' });
  expect(inheritedAt(content, { wording: 1 })).toEqual({ text: 'all', link: 'l' });
  expect(inheritedAt(content, { wording: 1, network: 'jot' })).toEqual({ text: 'second', link: 'l' });
  expect(inheritedAt(content, { wording: 1, network: 'jot', channel: 'c1' })).toEqual({
    text: 'second',
    link: 'other',
  });
});

test('what is said at one place is said nowhere else, and a place that says nothing is gone', () => {
  const place = { wording: 1, network: 'jot', channel: 'c2' };
  const said = saying(content, place, { text: 'x' });
  expect(saidAt(said, place)).toEqual({ text: 'x' });
  expect(saying(said, place, {})).toEqual(content);
  expect(saying(content, { wording: 0 }, { text: 'b' })).toEqual({ ...content, common: { text: 'b' } });
});

test('what was mended for one network is taken over, and what was typed meanwhile for others stays', () => {
  const mended = saying(content, { wording: 0, network: 'jot' }, { text: 'cut' });
  const typed = saying(content, { wording: 0 }, { text: 'all, and more' });
  const both = taking(typed, mended, { networks: ['jot'] });
  expect([both.common.text, both.networks.jot?.text]).toEqual(['all, and more', 'cut']);
  expect(taking(both, content, { networks: ['jot'] })).toEqual(typed);
});

test('stretches are cut where marks begin and end, and are the whole text together', () => {
  const found = segmentsOf(10, [
    { start: 2, length: 4, kind: 'part' },
    { start: 5, length: 5, kind: 'over' },
  ]);
  expect(found.map((s) => [s.start, s.end, [...s.kinds].join(' ')])).toEqual([
    [0, 2, ''],
    [2, 5, 'part'],
    [5, 6, 'part over'],
    [6, 10, 'over'],
  ]);
});

test('marks move along with what is typed before them, and go where it touches them', () => {
  const marks = [
    { start: 4, length: 5, kind: 'part' as const },
    { start: 12, length: 3, kind: 'over' as const },
  ];
  const before = 'see #gull at sea';
  expect(movedMarks(marks, `${before.slice(0, 15)}`, `so ${before.slice(0, 15)}`)).toEqual([
    { start: 7, length: 5, kind: 'part' },
    { start: 15, length: 3, kind: 'over' },
  ]);
  expect(movedMarks(marks, before.slice(0, 15), 'see #guLl at se').map((m) => m.kind)).toEqual(['over']);
});

test.each([
  ['with @skerry f', 'mention', 'skerry f'],
  ['#ring', 'hashtag', 'ring'],
  ['ab#ring', null, ''],
  ['post@exam', null, ''],
  ['so :wave', 'emoji', 'wave'],
  ['at 10:30', null, ''],
  ['#', 'hashtag', ''],
  ['سلام #طيور', 'hashtag', 'طيور'],
])('what is being typed in “%s”', (text, kind, typed) => {
  const found = triggerAt(text, text.length);
  expect(found?.kind ?? null).toBe(kind);
  if (found)
    expect([found.typed, text.slice(found.start)]).toEqual([typed, text.slice(text.length - typed.length - 1)]);
});

test('a part is split where the caret is and joined again, with its pictures', () => {
  const parts = [{ text: 'One. Two.' }, { text: 'Three.', pictures: [{ media: 'm' }] }];
  const split = splitAt(parts, 0, 5);
  expect(split.map((p) => p.text)).toEqual(['One.', 'Two.', 'Three.']);
  expect(joined(split, 2)[1]).toEqual({ text: 'Two.\n\nThree.', pictures: [{ media: 'm' }] });
});

test('the button says what it will do, and what stands in the way', () => {
  const time = { kind: 'time', date: '2026-12-03', time: '17:00', keyDate: '' } as const;
  const prospect: Prospect = { when: time, able: 3, asks: false, places: null, isReady: false };
  expect(actWords(prospect)).toBe('Schedule for Thu 3 Dec, 17:00 on three channels');
  expect(actWords({ ...prospect, asks: true })).toBe('Ask for approval for Thu 3 Dec, 17:00 on three channels');
  expect(actWords({ ...prospect, when: { kind: 'rotation' }, asks: true })).toBe('Ask for approval');
  expect(actWords({ ...prospect, when: { kind: 'now' }, able: 1 })).toBe('Send now to one channel');
  expect(
    actWords({ ...prospect, when: { kind: 'veryNext' }, places: { channels: 2, first: 'Fri 4 Dec, 09:00' } }),
  ).toBe('Book Fri 4 Dec, 09:00 on two channels');
  expect(hindrance(prospect, false)).toBe('Write something first.');
  expect(hindrance({ ...prospect, able: 0 }, true)).toContain('No channel');
  expect(hindrance({ ...prospect, when: { kind: 'now' }, asks: true }, true)).toContain('approval');
  expect(hindrance({ ...prospect, when: { kind: 'draft' }, able: 0 }, false)).toBeNull();
});

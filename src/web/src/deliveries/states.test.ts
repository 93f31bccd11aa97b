import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import type { Schemas } from '../api/client';
import { type DeliveryState, entryEdge, entryWord, type Form, failed, stateWord } from './states';

const states: DeliveryState[] = [
  'planned',
  'waitingForApproval',
  'substitute',
  'sending',
  'sent',
  'refused',
  'mayHaveGoneOut',
  'postItYourself',
  'missed',
  'cancelled',
];
const delivery = (state: DeliveryState, dealtWith = false, origin: Schemas['OriginKind'] = 'place') => ({
  kind: 'delivery' as const,
  state,
  dealtWith,
  origin: { kind: origin },
});

test('every state has a word and an edge of its own kind', () => {
  for (const state of states) {
    expect(stateWord(state)).toMatch(/^[a-z -]+$/);
    expect(entryEdge(delivery(state))).toMatch(/^edge/);
  }
});

test('failures look alike and unlike everything else', () => {
  const failures = states.filter(failed);
  expect(failures).toEqual(['refused', 'mayHaveGoneOut', 'missed']);
  const edges = new Set(failures.map((s) => entryEdge(delivery(s))));
  expect(edges.size).toBe(1);
  for (const state of states.filter((s) => !failed(s))) expect(edges.has(entryEdge(delivery(state)))).toBe(false);
});

test('a failure that a person has dealt with no longer shouts', () => {
  expect(entryEdge(delivery('refused', true))).toBe('edge-empty');
});

test('a planned delivery says whether the rota or a person gave it its time', () => {
  expect(entryWord(delivery('planned'))).toBe('scheduled');
  expect(entryWord(delivery('planned', false, 'exactTime'))).toBe('exact time');
});

test('what the rota only projects may change, and an empty place says so', () => {
  expect(entryWord({ kind: 'projected', state: null, origin: { kind: 'place' } })).toBe('may change');
  expect(entryEdge({ kind: 'projected', state: null, dealtWith: false })).toBe('edge-open');
  expect(entryWord({ kind: 'empty', state: null, origin: { kind: 'place' } })).toBe('empty');
});

test('every form of an edge is drawn', () => {
  const styles = readFileSync('src/styles.css', 'utf8');
  for (const form of ['open', 'scheduled', 'sending', 'sent', 'failed', 'empty'] satisfies Form[])
    expect(styles).toContain(`.edge-${form}`);
});

import type { Schemas } from '../api/client';

export type DeliveryState = Schemas['DeliveryState'];
type EntryKind = Schemas['EntryKind'];

/** How far a delivery has come, as it is drawn: the edge of a card, the mark in a table. */
export type Form = 'open' | 'settled' | 'sending' | 'sent' | 'failed' | 'empty';

const words: Record<DeliveryState, string> = {
  planned: 'planned',
  awaitingYes: 'awaiting a yes',
  standBy: 'stand-by',
  sending: 'sending',
  sent: 'sent',
  refused: 'refused',
  unsure: 'unsure',
  byHand: 'by hand',
  missed: 'missed',
  cancelled: 'cancelled',
};

const forms: Record<DeliveryState, Form> = {
  planned: 'settled',
  awaitingYes: 'open',
  standBy: 'open',
  sending: 'sending',
  sent: 'sent',
  refused: 'failed',
  unsure: 'failed',
  byHand: 'sending',
  missed: 'failed',
  cancelled: 'empty',
};

export const stateWord = (state: DeliveryState) => words[state];
export const failed = (state: DeliveryState | null) => state === 'refused' || state === 'missed' || state === 'unsure';

interface EntryLike {
  kind: EntryKind;
  state: DeliveryState | null;
  exact: boolean;
  placeState?: Schemas['PlaceState'];
  isHeld?: boolean;
  isGiven?: boolean;
}

/** A word for an entry of the line-up. */
export function entryWord(entry: EntryLike): string {
  if (entry.placeState === 'skipped') return 'skipped';
  if (entry.placeState === 'paused') return 'paused';
  if (entry.placeState === 'replaced') return 'replaced';
  if (entry.kind === 'empty') return 'empty';
  if (entry.kind === 'projected' || !entry.state) return entry.isHeld ? 'held' : entry.isGiven ? 'fixed' : 'may change';
  if (entry.state === 'planned') return entry.exact ? 'exact time' : 'settled';
  return words[entry.state];
}

export function entryForm(entry: Omit<EntryLike, 'exact'> & { dealtWith: boolean }): Form {
  if (entry.kind === 'empty') return 'empty';
  if (entry.kind === 'projected' || !entry.state) return entry.isGiven ? 'settled' : 'open';
  if (failed(entry.state) && entry.dealtWith) return 'empty';
  return forms[entry.state];
}

/** The class that gives a card the edge of its form. */
export const entryEdge = (entry: Parameters<typeof entryForm>[0]) => `edge-${entryForm(entry)}`;

import type { Schemas } from '../api/client';

export type DeliveryState = Schemas['DeliveryState'];
type EntryKind = Schemas['EntryKind'];
type OriginKind = Schemas['OriginKind'];

/** How far a delivery has come, as it is drawn: the edge of a card, the mark in a table. */
export type Form = (typeof allForms)[number];

const allForms = ['open', 'scheduled', 'sending', 'sent', 'failed', 'empty'] as const;

export const isForm = (word: string): word is Form => allForms.some((form) => form === word);

const words: Record<DeliveryState, string> = {
  planned: 'planned',
  waitingForApproval: 'waiting for approval',
  substitute: 'substitute',
  sending: 'sending',
  sent: 'sent',
  refused: 'refused',
  mayHaveGoneOut: 'may have gone out',
  postItYourself: 'post it yourself',
  missed: 'missed',
  cancelled: 'cancelled',
};

const forms: Record<DeliveryState, Form> = {
  planned: 'scheduled',
  waitingForApproval: 'open',
  substitute: 'open',
  sending: 'sending',
  sent: 'sent',
  refused: 'failed',
  mayHaveGoneOut: 'failed',
  postItYourself: 'sending',
  missed: 'failed',
  cancelled: 'empty',
};

export const stateWord = (state: DeliveryState) => words[state];
export const failed = (state: DeliveryState | null) =>
  state === 'refused' || state === 'missed' || state === 'mayHaveGoneOut';

interface EntryLike {
  kind: EntryKind;
  state: DeliveryState | null;
  origin: { kind: OriginKind };
  placeState?: Schemas['PlaceState'];
  isWaiting?: boolean;
  isGiven?: boolean;
  isPicked?: boolean;
  isTakenDown?: boolean;
}

/** What most of the weeks ahead are: what the rota would send as things stand. */
export const mayChange = 'may change';

/** A word for an entry of the line-up. */
export function entryWord(entry: EntryLike): string {
  if (entry.placeState === 'skipped') return 'skipped';
  if (entry.placeState === 'paused') return 'paused';
  if (entry.placeState === 'replaced') return 'replaced';
  if (entry.kind === 'empty') return 'empty';
  if (entry.kind === 'projected' || !entry.state)
    return entry.isWaiting ? 'waiting for approval' : entry.isPicked ? 'picked' : entry.isGiven ? 'booked' : mayChange;
  if (entry.isTakenDown) return 'taken down';
  if (entry.state === 'planned') return entry.origin.kind === 'exactTime' ? 'exact time' : 'scheduled';
  return words[entry.state];
}

export function entryForm(entry: Omit<EntryLike, 'origin'> & { dealtWith: boolean }): Form {
  if (entry.kind === 'empty') return 'empty';
  if (entry.kind === 'projected' || !entry.state) return entry.isGiven ? 'scheduled' : 'open';
  if (failed(entry.state) && entry.dealtWith) return 'empty';
  return forms[entry.state];
}

/** The class that gives a card the edge of its form. */
export const entryEdge = (entry: Parameters<typeof entryForm>[0]) => `edge-${entryForm(entry)}`;

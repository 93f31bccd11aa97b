/** Limits of input, as attributes of fields; written by ./lark types from the API's document. */
export const limits = {
  CategoryEdit: {
    name: { maxLength: 120 },
    gapDays: { min: 1, max: 730 },
    targetShare: { min: 0, max: 1 },
  },
  ChannelEdit: {
    spacingMinutes: { min: 1, max: 1440 },
    dailyLimit: { min: 1, max: 100 },
  },
  ChannelGroupEdit: {
    name: { maxLength: 120 },
  },
  ColumnsEdit: {
    columns: { maxItems: 200 },
  },
  ContactEdit: {
    key: { maxLength: 40 },
    name: { maxLength: 120 },
  },
  FeedRequest: {
    name: { maxLength: 120 },
    query: { maxLength: 2000 },
  },
  FieldValues: {
    text: { maxLength: 100000 },
    link: { maxLength: 2000 },
    cardTitle: { maxLength: 500 },
    cardText: { maxLength: 2000 },
    pictures: { maxItems: 10 },
    format: { maxLength: 20 },
    title: { maxLength: 500 },
    wall: { maxLength: 200 },
    firstComment: { maxLength: 20000 },
    location: { maxLength: 300 },
    contentWarning: { maxLength: 1000 },
    visibility: { maxLength: 40 },
    buttonVerb: { maxLength: 100 },
    buttonTarget: { maxLength: 2000 },
    offeredFrom: { maxLength: 10 },
    offeredUntil: { maxLength: 10 },
  },
  FitRequest: {
    networks: { maxItems: 50 },
  },
  KeptChannelEdit: {
    name: { maxLength: 120 },
    handle: { maxLength: 200 },
  },
  KeyDateEdit: {
    title: { maxLength: 120 },
    notes: { maxLength: 4000 },
    days: { min: 1, max: 366 },
  },
  KeyDateKindEdit: {
    name: { maxLength: 120 },
  },
  LinkPictureRequest: {
    address: { maxLength: 2000 },
    picture: { maxLength: 2000 },
  },
  LinkRequest: {
    address: { maxLength: 2000 },
  },
  MakingRequest: {
    category: { maxLength: 120 },
    title: { maxLength: 300 },
    text: { maxLength: 2000 },
  },
  MediaRequest: {
    altText: { maxLength: 2000 },
  },
  NoteEdit: {
    text: { maxLength: 2000 },
  },
  OccurrenceEdit: {
    note: { maxLength: 500 },
  },
  PostEdit: {
    title: { maxLength: 120 },
    gapDays: { min: 1, max: 730 },
    notes: { maxLength: 5000 },
  },
  ReplaceEdit: {
    target: { maxItems: 100 },
    find: { maxItems: 1000 },
    with: { maxItems: 1000 },
  },
  RotaEdit: {
    name: { maxLength: 120 },
  },
  RowsEdit: {
    fit: { maxItems: 50 },
  },
  SavedFilterEdit: {
    name: { maxLength: 120 },
    query: { maxLength: 2000 },
  },
  SendBackRequest: {
    note: { maxLength: 500 },
  },
  SlotEdit: {
    channels: { maxItems: 64 },
    every: { min: 1, max: 366 },
  },
  SourceEdit: {
    encoding: { maxItems: 40 },
    delimiter: { maxItems: 1 },
    sheet: { maxItems: 100 },
    headerRow: { min: 0, max: 100 },
  },
  TokenRequest: {
    name: { maxLength: 120 },
    days: { min: 1, max: 366 },
  },
  WhatIfRequest: {
    weeks: { min: 4, max: 26 },
  },
  WorkspaceEdit: {
    name: { maxLength: 120 },
    scheduleAheadHours: { min: 1, max: 336 },
    lateMinutes: { min: 1, max: 1440 },
    warnAboveRepeatsPercent: { min: 1, max: 100 },
    buttonVerbs: { maxItems: 40 },
  },
} as const;

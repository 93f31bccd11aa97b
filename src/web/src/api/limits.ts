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
  OccurrenceEdit: {
    note: { maxLength: 500 },
  },
  PostEdit: {
    title: { maxLength: 120 },
    gapDays: { min: 1, max: 730 },
  },
  RotaEdit: {
    name: { maxLength: 120 },
  },
  SendBackRequest: {
    note: { maxLength: 500 },
  },
  SlotEdit: {
    every: { min: 1, max: 366 },
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
  },
} as const;

import type { Schemas } from '../api/client';

export type WorkspaceOverview = Schemas['WorkspaceOverview'];

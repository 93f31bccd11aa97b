import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { api, ask, type Schemas, sendForm, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { addDays, readDate } from '../time/dates';
import { useNotices } from '../ui/Notices';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

export type FigureAge = Schemas['FigureAge'];
export type Measure = Schemas['Measure'];
export type Lifespan = Schemas['Lifespan'];
export type CategoryResult = Schemas['CategoryResult'];
export type ResultsView = Schemas['ResultsView'];
export type MeasuredRow = Schemas['MeasuredRow'];
export type DeliverySort = 'best' | 'worst' | 'most' | 'latest';

/** What results are asked of; it stands in the page's address. */
export interface Question {
  from: string;
  to: string;
  age: FigureAge;
  measure: Measure;
  channel: string[];
  network: string | null;
  lifespan: Lifespan | null;
}

export const ages: readonly { value: FigureAge; label: string }[] = [
  { value: 'day', label: '24 hours' },
  { value: 'week', label: '7 days' },
  { value: 'fourWeeks', label: '28 days' },
  { value: 'latest', label: 'up to now' },
];

export const lifespans: readonly { value: Lifespan; label: string }[] = [
  { value: 'evergreen', label: 'Evergreen posts' },
  { value: 'once', label: 'Once on each channel' },
  { value: 'onceAltogether', label: 'Once altogether' },
];

export type GroupRow = Schemas['GroupRow'];
export type ResultsBy = 'channel' | 'daypart' | 'post' | 'wording' | 'hashtag' | 'anyCategory';

/** What is asked, from the address, and how to ask something else. A quarter of a year, unless a period is given. */
export function useQuestion() {
  const [search, setSearch] = useSearchParams();
  const today = useWorkspace().data?.today ?? null;
  const to = readDate(search.get('to')) ?? today;
  const from = readDate(search.get('from')) ?? (to && addDays(to, -90));
  const question: Question | null =
    from && to
      ? {
          from,
          to,
          age: ages.find((a) => a.value === search.get('age'))?.value ?? 'week',
          measure: (search.get('measure') as Measure | null) ?? 'engagements',
          channel: search.getAll('channel'),
          network: search.get('network'),
          lifespan: lifespans.find((l) => l.value === search.get('lifespan'))?.value ?? null,
        }
      : null;
  const set = (changes: Record<string, string | readonly string[] | null>, keep = false) =>
    setSearch(
      (before) => {
        for (const [name, value] of Object.entries(changes)) {
          before.delete(name);
          for (const one of typeof value === 'string' ? [value] : (value ?? [])) before.append(name, one);
        }
        return before;
      },
      { replace: keep },
    );
  return { question, search, set, today };
}

const queryOf = ({ network, lifespan, ...question }: Question) => ({
  ...question,
  ...(network && { network }),
  ...(lifespan && { lifespan }),
});

export function useResults(question: Question | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, question],
    enabled: question !== null,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/results', {
          params: { path, query: queryOf(question as Question) },
        }),
      ),
  });
}

/** What a figure is of: a main category, or a group by its key. */
export interface BehindWhat {
  by: ResultsBy | 'category';
  key: string;
}

/** The deliveries behind a figure. */
export function useMeasured(question: Question, { by, key }: BehindWhat, sort: DeliverySort, take: number) {
  const { id, path } = useWorkspacePath();
  const of = by === 'category' ? { category: key } : { by, key };
  return useQuery({
    queryKey: ['results', id, question, 'deliveries', by, key, sort, take],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/results/deliveries', {
          params: { path, query: { ...queryOf(question), ...of, sort, take } },
        }),
      ),
  });
}

/** Which groups come first. */
export type GroupOrder = 'best' | 'worst';

/** Deliveries put together by what they have in common. */
export function useGroups(question: Question, by: ResultsBy, order: GroupOrder, take: number) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, question, 'groups', by, order, take],
    placeholderData: (before, query) => (query?.queryKey[4] === by ? before : undefined),
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/results/groups', {
          params: { path, query: { ...queryOf(question), by, order, take } },
        }),
      ),
  });
}

export type ActivityRow = Schemas['ActivityRow'];

/** What was to go out in the period, and what became of it. */
export function useActivity({ from, to }: Question) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, 'activity', from, to],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/results/activity', { params: { path, query: { from, to } } })),
  });
}

/** Where a table comes as a sheet, as it was asked for. */
export function tableAddress(workspace: string, question: Question, table: string, format: 'csv' | 'xlsx') {
  const query = new URLSearchParams({ table, format });
  for (const [name, value] of Object.entries(queryOf(question)))
    for (const one of Array.isArray(value) ? value : [String(value)]) query.append(name, one);
  return `/api/workspaces/${workspace}/results/table?${query}`;
}

export function useCurve(delivery: string) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, 'curve', delivery],
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/deliveries/{id}/figures', {
          params: { path: { ...path, id: delivery } },
        }),
      ),
  });
}

/** Keeps figures that a person wrote down, as of now. */
export function useEnterFigures(delivery: string) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (figures: Record<string, number>) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/figures', {
          params: { path: { ...path, id: delivery } },
          body: { figures },
        }),
      ),
    onSuccess: () => refresh(client, id, ['results', 'deliveries']),
  });
}

/** Takes back figures that people wrote down. */
export function useForgetFigures() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  return useMutation({
    mutationFn: (readings: readonly Schemas['EnteredReading'][]) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/results/figures/forget', {
          params: { path },
          body: { readings: [...readings] },
        }),
      ),
    onSuccess: () => tell('Taken back.'),
    onError: (error) => trouble(wordsOf(error)),
    onSettled: () => refresh(client, id, ['results', 'deliveries']),
  });
}

/** A sheet of figures: looked at, then taken in. */
export function useFigureSheet() {
  const { id } = useWorkspacePath();
  const client = useQueryClient();
  const { tell } = useNotices();
  const forget = useForgetFigures();
  const send = (tryOnly: boolean) => (sheet: File) => {
    const form = new FormData();
    form.append('sheet', sheet);
    const path = `/api/workspaces/${id}/results/figures?tryOnly=${tryOnly}`;
    return sendForm<Schemas['FigureSheetReport']>('POST', path, form);
  };
  const look = useMutation({ mutationFn: send(true) });
  const take = useMutation({
    mutationFn: send(false),
    onSuccess: ({ readings }) => {
      tell(`Took in ${readings.length === 1 ? 'the figures of one post' : `figures of ${readings.length} posts`}.`, {
        label: 'Undo',
        run: () => forget.mutate(readings),
      });
      return refresh(client, id, ['results', 'deliveries']);
    },
  });
  return { look, take };
}

export type ChannelFollowers = Schemas['ChannelFollowers'];

export function useFollowers({ from, to }: Question) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, 'followers', from, to],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/results/followers', { params: { path, query: { from, to } } })),
  });
}

export type MixView = Schemas['MixView'];

/** Slots that results would give to another category. */
export function useMix(question: Question) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, question, 'mix'],
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/results/mix', { params: { path, query: queryOf(question) } })),
  });
}

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask } from '../api/client';
import { useNetworks } from '../networks/networks';
import type { FieldValues, PostContent } from '../posts/content';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { WordChanges } from './text/WordChanges';

interface Props {
  postId: string;
  /** What is on the desk now. */
  content: PostContent;
  open: boolean;
  onClose: () => void;
  onRestore: (content: PostContent) => void;
}

/** The post's versions: who left it so and when, what has become of it since, and putting one back. */
export function History({ postId, content, open, onClose, onRestore }: Props) {
  return (
    <Sheet open={open} title="Versions" onClose={onClose}>
      {open && <Versions postId={postId} content={content} onRestore={onRestore} />}
    </Sheet>
  );
}

function Versions({ postId, content, onRestore }: Pick<Props, 'postId' | 'content' | 'onRestore'>) {
  const { id, path } = useWorkspacePath();
  const zone = useWorkspace().data?.zone;
  const [chosen, setChosen] = useState<number | null>(null);
  const [against, setAgainst] = useState<number | null>(null);
  const versions = useQuery({
    queryKey: ['post', id, postId, 'versions'],
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/posts/{id}/versions', { params: { path: { ...path, id: postId } } })),
  });
  const one = useVersion(postId, chosen);
  const other = useVersion(postId, against);
  const shown = one.data;
  return (
    <Fetched query={versions} what="the versions">
      {(list) => (
        <>
          <p className="text-faded text-sm">Press one to see, word by word, what has changed since.</p>
          <ol className="ruled mt-2">
            {list.map((v, i) => (
              <li key={v.number}>
                <button
                  type="button"
                  aria-pressed={v.number === chosen}
                  className="w-full px-1.5 py-1.5 text-left hover:bg-wash aria-pressed:bg-wash"
                  onClick={() => setChosen(v.number === chosen ? null : v.number)}
                >
                  <span className="font-medium">{v.by ?? 'Able Lark'}</span>{' '}
                  <span className="text-faded text-sm">{zone && instantWords(v.madeAt, zone)}</span>
                  <span className="block text-sm">
                    {i === list.length - 1 ? 'As it was first written' : v.changed || 'Nothing of the content'}
                  </span>
                </button>
                {v.number === chosen && shown && (
                  <div className="mb-2 border-dawn border-l-2 pl-3">
                    <label className="flex items-center gap-2 text-sm">
                      <span className="text-faded">Against</span>
                      <select
                        className="field !w-auto"
                        value={against ?? ''}
                        onChange={(e) => setAgainst(e.target.value ? Number(e.target.value) : null)}
                      >
                        <option value="">what is on the desk now</option>
                        {list
                          .filter((o) => o.number !== v.number)
                          .map((o) => (
                            <option key={o.number} value={o.number}>
                              {o.by}, {zone && instantWords(o.madeAt, zone)}
                            </option>
                          ))}
                      </select>
                    </label>
                    <Differences before={shown} after={against === null ? content : (other.data ?? shown)} />
                    <Button className="mt-2" onClick={() => onRestore(shown)}>
                      Put this version back
                    </Button>
                  </div>
                )}
              </li>
            ))}
          </ol>
        </>
      )}
    </Fetched>
  );
}

function useVersion(postId: string, number: number | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['version', id, postId, number],
    enabled: number !== null,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/posts/{id}/versions/{number}', {
          params: { path: { ...path, id: postId, number: number ?? 0 } },
        }),
      ),
  });
}

/** Two contents, layer by layer and field by field, where they differ. */
function Differences({ before, after }: { before: PostContent; after: PostContent }) {
  const networks = useNetworks().data ?? [];
  const fields = useVocabulary().data?.fields ?? [];
  const layers = layersOf(before, after);
  const changes = layers.flatMap(({ key, was, is }) =>
    fields
      .filter((f) => wordsIn(was[f.key as keyof FieldValues]) !== wordsIn(is[f.key as keyof FieldValues]))
      .map((f) => ({ key, field: f, was: was[f.key as keyof FieldValues], is: is[f.key as keyof FieldValues] })),
  );
  if (changes.length === 0) return <p className="mt-2 text-faded text-sm">They say the same.</p>;
  return (
    <dl className="mt-2 text-sm" data-differences>
      {changes.map(({ key, field, was, is }) => (
        <div key={`${key} ${field.key}`} className="mb-2">
          <dt className="text-faded">
            {field.name}
            {key && ` · ${networks.find((n) => n.key === key)?.name ?? key}`}
          </dt>
          <dd>
            <WordChanges before={wordsIn(was)} after={wordsIn(is)} />
          </dd>
        </div>
      ))}
    </dl>
  );
}

interface Layer {
  key: string;
  was: FieldValues;
  is: FieldValues;
}

function layersOf(before: PostContent, after: PostContent): Layer[] {
  const count = Math.max(before.wordings.length, after.wordings.length) + 1;
  return Array.from({ length: count }, (_, i) => {
    const [was, is] = [i === 0 ? before : before.wordings[i - 1], i === 0 ? after : after.wordings[i - 1]];
    const name = i === 0 ? '' : `wording ${i + 1}`;
    const under = (kind: 'networks' | 'channels') =>
      [...new Set([...Object.keys(was?.[kind] ?? {}), ...Object.keys(is?.[kind] ?? {})])].map((key) => ({
        key: [name, kind === 'channels' ? 'one channel' : key].filter(Boolean).join(', '),
        was: was?.[kind][key] ?? {},
        is: is?.[kind][key] ?? {},
      }));
    return [{ key: name, was: was?.common ?? {}, is: is?.common ?? {} }, ...under('networks'), ...under('channels')];
  }).flat();
}

/** A value of any field in words; undefined and null are told apart: nothing said, and nothing on purpose. */
function wordsIn(value: FieldValues[keyof FieldValues]): string {
  if (value === undefined) return '';
  if (value === null) return '(nothing)';
  if (typeof value === 'string') return value;
  if (Array.isArray(value)) return `${value.length} ${value.length === 1 ? 'picture' : 'pictures'}${altWords(value)}`;
  if ('parts' in value) return value.parts.map((p) => p.text).join('\n\n');
  return JSON.stringify(value);
}

const altWords = (pictures: readonly { altText?: string | null }[]) =>
  pictures.some((p) => p.altText) ? `: ${pictures.map((p) => p.altText ?? 'no alt text').join('; ')}` : '';

import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../api/client';
import { ChannelName } from '../../channels/channels';
import { useNetworks } from '../../networks/networks';
import { inheritedAt, noLayers, type PostContent, saidAt } from '../../posts/content';
import type { NetworkCheck } from '../../posts/posts';
import { whole } from '../../results/words';
import { shortDay } from '../../time/dates';
import { Button } from '../../ui/Button';
import { useVocabulary } from '../../vocabulary/vocabulary';
import { useWorkspaceLink, useWorkspacePath } from '../../workspaces/workspace';
import { StateLink } from './StateLink';
import { atWords } from './useAct';

/** Besides the post itself. */
const most = 8;

interface TabsProps {
  content: PostContent;
  wording: number;
  onChoose: (wording: number) => void;
  onChange: (content: PostContent) => void;
}

/** Which wording is being written: the post's own, or one of those that take turns with it. */
export function WordingTabs({ content, wording, onChoose, onChange }: TabsProps) {
  const count = content.wordings.length + 1;
  return (
    <fieldset className="flex flex-wrap items-center gap-1 text-sm">
      <legend className="sr-only">Wordings</legend>
      {count > 1 &&
        Array.from({ length: count }, (_, i) => i).map((i) => (
          <button
            key={i}
            type="button"
            aria-pressed={i === wording}
            className="rounded-md px-2 py-0.5 hover:bg-wash aria-pressed:bg-ink aria-pressed:text-paper"
            onClick={() => onChoose(i)}
          >
            {i === 0 ? 'The post' : `Wording ${i + 1}`}
          </button>
        ))}
      <Button
        variant="quiet"
        className="!px-2 !py-0.5 font-normal underline underline-offset-3"
        disabled={count > most}
        onClick={() => {
          const text = content.common.text ?? '';
          onChange({ ...content, wordings: [...content.wordings, { ...noLayers, common: { text } }] });
          onChoose(count);
        }}
      >
        Add a wording
      </Button>
      {wording > 0 && (
        <Button
          variant="quiet"
          className="!px-2 !py-0.5 font-normal underline underline-offset-3"
          onClick={() => {
            onChoose(0);
            onChange({ ...content, wordings: content.wordings.filter((_, i) => i !== wording - 1) });
          }}
        >
          Take wording {wording + 1} away
        </Button>
      )}
    </fieldset>
  );
}

interface Props {
  postId: string;
  content: PostContent;
  /** How each network stands to them; only those that the post goes to. */
  checks: readonly NetworkCheck[];
  wording: number;
  onChoose: (wording: number) => void;
}

/** All wordings side by side: what each says, where it goes next, and what became of it so far. */
export function WordingsCompared({ postId, content, checks, wording, onChoose }: Props) {
  const { id, path } = useWorkspacePath();
  const { rights } = useWorkspaceLink();
  const networks = useNetworks().data ?? [];
  const uses = useQuery({
    queryKey: ['lineUp', id, 'wordings', postId],
    enabled: rights.includes('results') && content.wordings.length > 0,
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/posts/{id}/wordings', { params: { path: { ...path, id: postId } } })),
  }).data;
  if (content.wordings.length === 0) return null;
  return (
    <section aria-label="Wordings compared" className="border-rule border-t pt-4" data-wordings>
      <h2>Wordings</h2>
      <p className="text-faded text-sm">
        Each time it comes round on a channel, the wording used longest ago there goes.
      </p>
      <div className="mt-3 grid grid-cols-[repeat(auto-fit,minmax(15rem,1fr))] gap-6">
        {[content, ...content.wordings].map((_, i) => {
          const place = { wording: i };
          const text = { ...inheritedAt(content, place), ...saidAt(content, place) }.text ?? '';
          const blocks =
            i === 0 ? [] : checks.flatMap((c) => (c.wordingBlocks[i - 1] ? [[c.network, c.wordingBlocks[i - 1]]] : []));
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a wording is known by its place alone
            <article key={i} data-wording={i + 1} className={i === wording ? 'border-dawn border-l-2 pl-3' : 'pl-3'}>
              <h3>
                <button type="button" className="hover:text-dawn" onClick={() => onChoose(i)}>
                  {i === 0 ? 'The post' : `Wording ${i + 1}`}
                </button>
              </h3>
              <p className="mt-1 line-clamp-6 whitespace-pre-wrap text-sm">
                {text || <i className="text-faded">No text</i>}
              </p>
              {blocks.map(([network, why]) => (
                <p key={network} className="mt-1 border-bad border-l-4 pl-2 text-bad text-sm">
                  Passed over on {networks.find((n) => n.key === network)?.name}: {why}
                </p>
              ))}
              {uses?.[i] && <Use use={uses[i]} />}
            </article>
          );
        })}
      </div>
    </section>
  );
}

const shown = 6;

function Use({ use }: { use: Schemas['WordingUse'] }) {
  return (
    <div className="mt-2 text-sm">
      {use.next.slice(0, shown).map((n) => (
        <p key={n.channelId} className="flex flex-wrap items-center gap-x-2">
          <span className="text-faded">Next</span> {atWords(n.at)} <ChannelName id={n.channelId} />
        </p>
      ))}
      {use.next.length === 0 && <p className="text-faded">Not next anywhere in the coming twelve weeks.</p>}
      <ul className="ruled mt-1">
        {use.deliveries.slice(0, shown).map((d) => (
          <li key={d.id} className="py-0.5">
            <span className="flex flex-wrap items-center gap-x-2">
              {shortDay(d.date)} <ChannelName id={d.channelId} />
              <StateLink state={d.state} address={d.address} />
            </span>
            {d.figures && <Figures figures={d.figures} />}
          </li>
        ))}
      </ul>
      {use.deliveries.length > shown && <p className="text-faded">and {use.deliveries.length - shown} before that</p>}
    </div>
  );
}

/** What one delivery has earned so far, on a line. */
function Figures({ figures }: { figures: Schemas['FigureSet'] }) {
  const kinds = useVocabulary().data?.figures ?? [];
  const told = kinds.flatMap(({ key, words }) => {
    const value = figures[key];
    // Followers belong to the channel, and noughts make the line long.
    return !value || key === 'followers' ? [] : [`${whole(value)} ${words.toLowerCase()}`];
  });
  return <span className="block text-faded">{told.join(' · ')}</span>;
}

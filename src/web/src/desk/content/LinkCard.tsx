import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask, type Schemas, wordsOf } from '../../api/client';
import type { FieldValues } from '../../posts/content';
import { Button } from '../../ui/Button';
import { useNotices } from '../../ui/Notices';
import { useWorkspacePath } from '../../workspaces/workspace';

interface Props {
  link: string;
  values: FieldValues;
  onChange: (values: FieldValues) => void;
}

const isLink = (link: string) => /^https?:\/\/[^\s/]+\.[^\s]+$/.test(link);

/** What the page under a link says of itself, to be taken for the link’s card as it is or changed. */
export function LinkCard({ link, values, onChange }: Props) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const [shown, setShown] = useState(0);
  const key = ['link', id, link];
  const read = (anew: boolean) =>
    ask(api.POST('/api/workspaces/{workspaceId}/links/read', { params: { path }, body: { address: link, anew } }));
  const card = useQuery({
    queryKey: key,
    enabled: isLink(link),
    queryFn: () => read(false),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const again = useMutation({
    mutationFn: () => read(true),
    onSuccess: (found) => client.setQueryData(key, found),
    onError: (error) => trouble(wordsOf(error)),
  });
  const take = useMutation({
    mutationFn: async ({ page, nth }: { page: Schemas['LinkView']; nth: number }) => {
      const picture = page.pictures[nth];
      const file = picture
        ? await ask(
            api.POST('/api/workspaces/{workspaceId}/links/picture', {
              params: { path },
              body: { address: page.address, picture },
            }),
          )
        : null;
      return { cardTitle: page.title || null, cardText: page.text || null, cardPicture: file?.id ?? null };
    },
    onSuccess: onChange,
    onError: (error) => trouble(wordsOf(error)),
  });
  if (!isLink(link) || (!card.data && !card.isPending)) return null;
  if (!card.data) return <p className="mt-1 text-faded text-sm">Reading the page …</p>;
  const { title, text, pictures, trouble: lacking } = card.data;
  const isTaken = values.cardTitle === title && values.cardText === (text || undefined);
  return (
    <div className="mt-1.5 border-rule-strong border-l-2 pl-3 text-sm" data-link-card>
      {lacking && <p className="text-faded">{lacking}</p>}
      {title && <p className="font-medium">{title}</p>}
      {text && <p className="text-faded">{text}</p>}
      <p className="-ml-3 mt-0.5 flex flex-wrap items-center">
        {(title || text) && (
          <Button
            variant="quiet"
            disabled={take.isPending || isTaken}
            onClick={() => take.mutate({ page: card.data, nth: 0 })}
          >
            {take.isPending
              ? 'Taking it …'
              : isTaken
                ? '✓ On the card'
                : pictures.length > 0
                  ? 'Take this and its picture for the card'
                  : 'Take this for the card'}
          </Button>
        )}
        {isTaken && pictures.length > 1 && (
          <Button
            variant="quiet"
            disabled={take.isPending}
            onClick={() => {
              const nth = (shown + 1) % pictures.length;
              setShown(nth);
              take.mutate({ page: card.data, nth });
            }}
          >
            Another of its {pictures.length} pictures
          </Button>
        )}
        <Button variant="quiet" disabled={again.isPending} onClick={() => again.mutate()}>
          {again.isPending ? 'Reading …' : 'Read the page anew'}
        </Button>
      </p>
    </div>
  );
}

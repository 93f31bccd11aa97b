import { type ReactNode, useState } from 'react';
import { viewBoxOf } from '../media/crops';
import { mediaAddress, useMediaFacts } from '../media/media';
import { type Network, NetworkMark } from '../networks/networks';
import { useWorkspacePath } from '../workspaces/workspace';
import type { FieldValues, Picture } from './content';

/** What a post is drawn from. */
export interface Look {
  fields: FieldValues;
  /** The text with what is special in it marked; left out: as it is. */
  text?: ReactNode;
  network: Network | undefined;
  /** Whose post it is. */
  by: string;
}

export const Sign = ({ network }: { network: Network | undefined }) => (
  <span className="grid size-7 shrink-0 place-items-center rounded-full border border-rule-strong bg-wash">
    {network && <NetworkMark network={network.key} size={15} />}
  </span>
);

export function By({ by, network, fields, more }: Look & { more: string | null }) {
  return (
    <div className="flex items-center gap-2">
      <Sign network={network} />
      <span className="min-w-0 leading-tight">
        <b className="block truncate">{by}</b>
        {more && <span className="text-faded">{more}</span>}
        {fields.visibility && <span className="text-faded">for {fields.visibility}</span>}
      </span>
    </div>
  );
}

/** The text, folded where the network folds it. */
export function Words({ fields, text, network, className = '' }: Look & { className?: string }) {
  const fold = network?.text.foldAfter;
  const all = fields.text ?? '';
  const folds = fold != null && all.length > fold;
  const [isOpen, setOpen] = useState(false);
  return (
    <div className={className}>
      <p className="whitespace-pre-wrap break-words" dir="auto">
        {!all ? (
          <i className="text-faded">No text</i>
        ) : folds && !isOpen ? (
          <>
            {all.slice(0, fold).trimEnd()}
            <span aria-hidden="true"> … </span>
          </>
        ) : (
          (text ?? all)
        )}
        {folds && (
          <button
            type="button"
            className="link min-h-6 text-faded"
            data-fold={isOpen ? 'open' : 'shut'}
            onClick={() => setOpen(!isOpen)}
          >
            {isOpen ? 'less' : 'more'}
          </button>
        )}
      </p>
    </div>
  );
}

export function Card({ fields, className }: { fields: FieldValues; className: string }) {
  const { id } = useWorkspacePath();
  if (!fields.link || fields.buttonVerb) return null;
  // Beside pictures, a film or a document the link stays a link.
  const hasMedia = Boolean(fields.pictures?.length || fields.video || fields.document);
  return (
    <div className={className} data-card>
      {fields.cardPicture && !hasMedia && (
        <img src={mediaAddress(id, fields.cardPicture, 640)} alt="" className="max-h-36 w-full object-cover" />
      )}
      <div className="break-words px-2.5 py-1.5">
        <span className="block font-medium">{fields.cardTitle ?? hostOf(fields.link)}</span>
        {fields.cardText && <span className="block">{fields.cardText}</span>}
        <span className="block truncate text-faded">{fields.link}</span>
      </div>
    </div>
  );
}

export const Comment = ({ fields, by }: { fields: FieldValues; by: string }) =>
  fields.firstComment ? (
    <div className="border-rule border-t px-3 py-2" data-first-comment>
      <p className="rounded-md bg-wash px-2.5 py-1.5">
        <b>{by}</b> <span className="text-faded">first comment</span>
        <span className="block whitespace-pre-wrap break-words">{fields.firstComment}</span>
      </p>
    </div>
  ) : null;

/** Its pictures, video or document. */
export function Media({
  fields,
  columns = false,
}: {
  fields: Pick<FieldValues, 'pictures' | 'video' | 'document'>;
  columns?: boolean;
}) {
  const pictures = fields.pictures ?? [];
  return (
    <>
      {pictures.length > 0 && (
        <div className={`grid gap-0.5 ${pictures.length > 1 ? 'grid-cols-2' : ''} ${columns ? 'mt-1' : ''}`}>
          {pictures.map((picture, i) => (
            <Shown
              // biome-ignore lint/suspicious/noArrayIndexKey: the same picture may stand twice
              key={i}
              picture={picture}
              className={pictures.length > 2 || (columns && pictures.length > 1) ? 'aspect-square object-cover' : ''}
            />
          ))}
        </div>
      )}
      {fields.video && <Film media={fields.video} />}
      {fields.document && <Pages media={fields.document} />}
    </>
  );
}

export function Shown({ picture, className = '' }: { picture: Picture; className?: string }) {
  const { id } = useWorkspacePath();
  return (
    <img
      // A crop is in pixels of the file itself.
      src={mediaAddress(id, picture.media, picture.crop ? undefined : 640)}
      alt={picture.altText ?? ''}
      className={`w-full ${className}`}
      style={picture.crop ? { objectViewBox: viewBoxOf(picture.crop) } : undefined}
    />
  );
}

function Film({ media }: { media: string }) {
  const { id } = useWorkspacePath();
  const facts = useMediaFacts(media).data;
  return (
    <a
      href={mediaAddress(id, media)}
      target="_blank"
      rel="noreferrer"
      className="relative block bg-wash text-center"
      data-film
    >
      {facts?.hasPoster ? (
        <img src={mediaAddress(id, media, 640)} alt="" className="mx-auto max-h-72" />
      ) : (
        <span className="block p-6 text-faded">{facts?.fileName ?? '…'}</span>
      )}
      <span className="absolute inset-0 m-auto grid size-11 place-items-center rounded-full bg-paper/85">▶</span>
      <span className="sr-only">Video: {facts?.fileName}</span>
    </a>
  );
}

function Pages({ media }: { media: string }) {
  const { id } = useWorkspacePath();
  const facts = useMediaFacts(media).data;
  return (
    <p className="flex items-center gap-3 bg-wash px-3 py-2.5">
      <span
        aria-hidden="true"
        className="relative block h-12 w-9 border border-rule-strong bg-paper shadow-[3px_3px_0_var(--leaf),4px_4px_0_var(--rule-strong)]"
      />
      <span className="min-w-0">
        <span className="sr-only">Document: </span>
        <a className="link block truncate" href={mediaAddress(id, media)} target="_blank" rel="noreferrer">
          {facts?.fileName ?? '…'}
        </a>
        {facts?.pages != null && <span className="text-faded">{facts.pages} pages to leaf through</span>}
      </span>
    </p>
  );
}

export function hostOf(link: string) {
  try {
    return new URL(link).host;
  } catch {
    return link;
  }
}

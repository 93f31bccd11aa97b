import { type ReactNode, useState } from 'react';
import { viewBoxOf } from '../media/crops';
import { mediaAddress, useMediaFacts } from '../media/media';
import { type Network, NetworkMark } from '../networks/networks';
import { dayWords } from '../time/dates';
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

/** The shape that a network's posts have, drawn by us: true in what matters, and nobody's in particular. */
export function Shaped(look: Look) {
  switch (look.network?.look) {
    case 'notes':
      return <Note {...look} />;
    case 'pictures':
      return <PictureFirst {...look} />;
    case 'pins':
      return <Pin {...look} />;
    case 'clips':
      return <Clip {...look} />;
    case 'listings':
      return <Listing {...look} />;
    default:
      return <PageLike {...look} />;
  }
}

const frame = 'overflow-hidden rounded-md border border-rule bg-leaf text-sm';

/** Text first, pictures or the link's card below, comments under it. */
function PageLike(look: Look) {
  const { fields, network } = look;
  return (
    <div className={frame} data-look={network?.look ?? 'pages'}>
      <div className="p-3 pb-2">
        <By {...look} more={fields.location ?? null} />
        {fields.title && <p className="mt-2 font-head font-semibold">{fields.title}</p>}
        <Words {...look} className="mt-2" />
      </div>
      <Media fields={fields} />
      <Card fields={fields} className="border-rule border-t" />
      {fields.thread?.parts.map((part, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place alone
        <div key={i} className="border-rule border-t border-dashed px-3 py-2" data-part={i + 2}>
          <p className="whitespace-pre-wrap break-words">{part.text}</p>
          <Media fields={{ pictures: part.pictures ?? null }} />
        </div>
      ))}
      <Comment fields={fields} by={look.by} />
    </div>
  );
}

/** Short texts, one under the other on a thread. */
function Note(look: Look) {
  const { fields, network } = look;
  const parts = fields.thread?.parts ?? [];
  const [isOpen, setOpen] = useState(false);
  const covered = Boolean(fields.contentWarning) && !isOpen;
  return (
    <div className={`${frame} p-3`} data-look="notes">
      <div className="flex gap-2.5">
        <Rail network={network} goesOn={parts.length > 0} />
        <div className="min-w-0 flex-1 pb-2">
          <b>{look.by}</b>
          {fields.visibility && <span className="text-faded"> · for {fields.visibility}</span>}
          {fields.contentWarning && (
            <p className="mt-1 flex items-center gap-2 border-rule border-y py-1">
              <span className="flex-1">{fields.contentWarning}</span>
              <button type="button" className="link min-h-6" onClick={() => setOpen(!isOpen)}>
                {isOpen ? 'Cover it' : 'Show it'}
              </button>
            </p>
          )}
          {!covered && (
            <>
              <Words {...look} className="mt-0.5" />
              <div className="mt-1.5 overflow-hidden rounded-md">
                <Media fields={fields} columns />
              </div>
              <Card fields={fields} className="mt-1.5 rounded-md border border-rule" />
            </>
          )}
        </div>
      </div>
      {parts.map((part, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place alone
        <div key={i} className="flex gap-2.5" data-part={i + 2}>
          <Rail network={network} goesOn={i < parts.length - 1} />
          <div className="min-w-0 flex-1 pb-2">
            <p className="whitespace-pre-wrap break-words">{part.text}</p>
            <Media fields={{ pictures: part.pictures ?? null }} columns />
          </div>
        </div>
      ))}
    </div>
  );
}

/** What stands before a note: its mark, and the thread to the next. */
const Rail = ({ network, goesOn }: { network: Network | undefined; goesOn: boolean }) => (
  <span aria-hidden="true" className="flex w-7 shrink-0 flex-col items-center gap-1">
    <Sign network={network} />
    {goesOn && <span className="w-px flex-1 bg-rule-strong" />}
  </span>
);

const Sign = ({ network }: { network: Network | undefined }) => (
  <span className="grid size-7 shrink-0 place-items-center rounded-full border border-rule-strong bg-wash">
    {network && <NetworkMark network={network.key} size={15} />}
  </span>
);

/** The picture first; the text is cut where the network cuts it. */
function PictureFirst(look: Look) {
  const { fields } = look;
  const pictures = fields.pictures ?? [];
  const [at, setAt] = useState(0);
  const shown = pictures[Math.min(at, pictures.length - 1)];
  return (
    <div className={frame} data-look="pictures">
      <div className="px-3 py-2">
        <By {...look} more={fields.location ?? null} />
      </div>
      {shown ? <Shown picture={shown} /> : <Media fields={fields} />}
      {pictures.length > 1 && (
        <div className="flex justify-center gap-1 pt-1">
          {pictures.map((p, i) => (
            <button
              key={p.media}
              type="button"
              aria-label={`Picture ${i + 1} of ${pictures.length}`}
              aria-pressed={i === at}
              className="grid size-6 place-items-center [&>i]:bg-rule-strong aria-pressed:[&>i]:bg-dawn"
              onClick={() => setAt(i)}
            >
              <i className="block size-2 rounded-full" />
            </button>
          ))}
        </div>
      )}
      <Words {...look} className="px-3 py-2" />
      <Comment fields={fields} by={look.by} />
    </div>
  );
}

/** An upright picture with a title, on a wall. */
function Pin(look: Look) {
  const { fields } = look;
  return (
    <div className={`${frame} mx-auto max-w-60`} data-look="pins">
      <Media fields={fields} />
      <div className="p-2.5">
        {fields.title && <p className="font-head font-semibold">{fields.title}</p>}
        <Words {...look} className="mt-0.5" />
        {fields.link && <p className="mt-1 truncate text-faded">{hostOf(fields.link)}</p>}
        <p className="mt-1 border-rule border-t pt-1 text-faded">
          {look.by}
          {fields.wall && `, on “${fields.wall}”`}
        </p>
      </div>
    </div>
  );
}

/** An upright film, the text upon it. */
function Clip(look: Look) {
  const { fields } = look;
  return (
    <div className={`${frame} relative mx-auto aspect-[9/16] max-w-56 bg-wash`} data-look="clips">
      <div className="absolute inset-0 grid place-items-center overflow-hidden [&_img]:h-full [&_img]:object-cover">
        <Media fields={fields} />
      </div>
      <div className="absolute inset-x-0 bottom-0 max-h-2/3 overflow-y-auto bg-paper/90 p-2.5">
        <b>{look.by}</b>
        <Words {...look} />
      </div>
    </div>
  );
}

/** A picture, dates and a button. */
function Listing(look: Look) {
  const { fields } = look;
  return (
    <div className={frame} data-look="listings">
      <Media fields={fields} />
      <div className="p-3">
        {fields.offeredFrom && fields.offeredUntil && (
          <p className="font-head font-semibold">
            {dayWords(fields.offeredFrom)} to {dayWords(fields.offeredUntil)}
          </p>
        )}
        <Words {...look} />
        {fields.buttonVerb && (
          <p className="mt-2 rounded-md bg-ink py-1 text-center font-medium text-paper" data-button>
            {fields.buttonVerb}
            <span className="sr-only"> leads to {fields.buttonTarget ?? fields.link}</span>
          </p>
        )}
        <p className="mt-2 text-faded">{look.by}</p>
      </div>
    </div>
  );
}

function By({ by, network, fields, more }: Look & { more: string | null }) {
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
function Words({ fields, text, network, className = '' }: Look & { className?: string }) {
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

function Card({ fields, className }: { fields: FieldValues; className: string }) {
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

const Comment = ({ fields, by }: { fields: FieldValues; by: string }) =>
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

function Shown({ picture, className = '' }: { picture: Picture; className?: string }) {
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

function hostOf(link: string) {
  try {
    return new URL(link).host;
  } catch {
    return link;
  }
}

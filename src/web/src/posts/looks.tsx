import { useState } from 'react';
import type { Network } from '../networks/networks';
import { dayWords } from '../time/dates';
import { By, Card, Comment, hostOf, type Look, Media, Shown, Sign, Words } from './lookParts';

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
      <div className="absolute inset-x-0 bottom-0 line-clamp-6 bg-paper/90 p-2.5">
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

import type { ReactNode } from 'react';
import { viewBoxOf } from '../media/crops';
import { mediaAddress, useMediaFacts } from '../media/media';
import { dayWords } from '../time/dates';
import { useWorkspacePath } from '../workspaces/workspace';
import type { FieldValues } from './content';
import type { NetworkCheck } from './posts';

/** How the post will look, plainly: what would be sent, with the part beyond the limit marked. */
export const Preview = ({ check }: { check: NetworkCheck }) => (
  <PostLook fields={check.content} text={<Marked check={check} />} />
);

/** What one channel gets, or got. */
export function PostLook({ fields, text }: { fields: FieldValues; text?: ReactNode }) {
  const { id } = useWorkspacePath();
  return (
    <div className="rounded-md border border-rule bg-leaf p-3 text-sm" data-look>
      {(fields.wall || fields.location || fields.visibility) && (
        <p className="mb-1 text-faded">
          {[
            fields.wall && `On the wall “${fields.wall}”`,
            fields.location,
            fields.visibility && `For ${fields.visibility}`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </p>
      )}
      {fields.contentWarning && (
        <p className="mb-1 border-rule-strong border-b pb-1 font-medium">{fields.contentWarning}</p>
      )}
      {fields.title && <p className="mb-1 font-head font-semibold">{fields.title}</p>}
      <p className="whitespace-pre-wrap break-words">
        {fields.text ? (text ?? fields.text) : <i className="text-faded">No text</i>}
      </p>
      <Media fields={fields} />
      {fields.offeredFrom && fields.offeredUntil && (
        <p className="mt-1 font-medium">
          {dayWords(fields.offeredFrom)} to {dayWords(fields.offeredUntil)}
        </p>
      )}
      {fields.buttonVerb && (
        <p className="mt-2 w-fit rounded-full border border-rule-strong px-3 py-1 font-medium" data-button>
          {fields.buttonVerb}
          <span className="sr-only"> leads to {fields.buttonTarget ?? fields.link}</span>
        </p>
      )}
      {fields.link && !fields.buttonVerb && (
        <div className="mt-2 break-all rounded-sm border border-rule-strong px-2 py-1.5" data-card>
          {fields.cardPicture && (
            <img src={mediaAddress(id, fields.cardPicture, 640)} alt="" className="mb-1 max-h-32 w-full object-cover" />
          )}
          <span className="block font-medium">{fields.cardTitle ?? hostOf(fields.link)}</span>
          {fields.cardText && <span className="block">{fields.cardText}</span>}
          <span className="text-faded">{fields.link}</span>
        </div>
      )}
      {fields.thread?.parts.map((part, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place alone
        <div key={i} className="mt-2 border-rule-strong border-t border-dashed pt-2" data-part={i + 2}>
          <p className="whitespace-pre-wrap break-words">{part.text}</p>
          <Media fields={{ pictures: part.pictures ?? null }} />
        </div>
      ))}
      {fields.firstComment && (
        <p className="mt-2 whitespace-pre-wrap break-words border-rule-strong border-l-2 pl-2" data-first-comment>
          <span className="block text-faded">First comment</span>
          {fields.firstComment}
        </p>
      )}
    </div>
  );
}

/** Its pictures, video or document. */
function Media({ fields }: { fields: Pick<FieldValues, 'pictures' | 'video' | 'document'> }) {
  const { id } = useWorkspacePath();
  const pictures = fields.pictures ?? [];
  return (
    <>
      {pictures.length > 0 && (
        <div className={`mt-2 grid gap-1 ${pictures.length > 1 ? 'grid-cols-2' : ''}`}>
          {pictures.map((picture, i) => (
            <img
              // biome-ignore lint/suspicious/noArrayIndexKey: the same picture may stand twice
              key={i}
              // A crop is in pixels of the file itself.
              src={mediaAddress(id, picture.media, picture.crop ? undefined : 640)}
              alt={picture.altText ?? ''}
              className="w-full rounded-sm"
              style={picture.crop ? { objectViewBox: viewBoxOf(picture.crop) } : undefined}
            />
          ))}
        </div>
      )}
      {fields.video && <FileLine media={fields.video} what="Video" />}
      {fields.document && <FileLine media={fields.document} what="Document" />}
    </>
  );
}

function FileLine({ media, what }: { media: string; what: string }) {
  const { id } = useWorkspacePath();
  const facts = useMediaFacts(media).data;
  return (
    <p className="mt-2 rounded-sm bg-wash px-2 py-1.5">
      {facts?.hasPoster && (
        <img src={mediaAddress(id, media, 640)} alt="" className="mx-auto mb-1 max-h-64 rounded-sm" />
      )}
      {what}:{' '}
      <a className="link" href={mediaAddress(id, media)} target="_blank" rel="noreferrer">
        {facts?.fileName ?? '…'}
      </a>
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

/** Links, hashtags and mentions stand out; what lies beyond the limit is struck. */
function Marked({ check: { content, parts, overflowAt } }: { check: NetworkCheck }) {
  const text = content.text ?? '';
  const end = overflowAt ?? text.length;
  const pieces: ReactNode[] = [];
  let at = 0;
  for (const part of parts) {
    const start = part.start ?? 0;
    const stop = Math.min(start + (part.length ?? 0), end);
    if (start >= end) break;
    pieces.push(text.slice(at, start));
    pieces.push(
      <span key={start} className="text-dawn">
        {text.slice(start, stop)}
      </span>,
    );
    at = stop;
  }
  pieces.push(text.slice(at, end));
  return (
    <>
      {pieces}
      {overflowAt !== null && (
        <mark className="bg-bad-wash text-bad line-through" title="Beyond the limit">
          {text.slice(end)}
        </mark>
      )}
    </>
  );
}

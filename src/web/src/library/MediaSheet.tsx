import { useState } from 'react';
import { Link } from 'react-router';
import { wordsOf } from '../api/client';
import { limits } from '../api/limits';
import { ChannelName } from '../channels/channels';
import { stateWord } from '../deliveries/states';
import { FocusPoint } from '../media/FocusPoint';
import { MediaChooser } from '../media/MediaChooser';
import {
  drawPoster,
  factsWords,
  isPicture,
  type MediaFile,
  mediaAddress,
  useDescribeMedia,
  useMediaFacts,
  useMediaUses,
  useRemoveMedia,
  useSetPoster,
} from '../media/media';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { useNotices } from '../ui/Notices';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

/** One file of the workspace: what it shows, what is said of it, where it is used. */
export function MediaSheet({ media, onClose }: { media: string; onClose: () => void }) {
  const facts = useMediaFacts(media);
  return (
    <Sheet open title={facts.data?.fileName ?? 'A file'} onClose={onClose}>
      <Fetched query={facts} what="the file">
        {(file) => <Content key={file.id} file={file} onClose={onClose} />}
      </Fetched>
    </Sheet>
  );
}

function Content({ file, onClose }: { file: MediaFile; onClose: () => void }) {
  const { id } = useWorkspacePath();
  return (
    <div className="flex flex-col gap-4">
      {isPicture(file) ? <Described file={file} /> : <Shown file={file} />}
      <dl className="grid grid-cols-[7rem_1fr] gap-y-1 text-sm">
        <dt className="text-faded">Facts</dt>
        <dd>{factsWords(file)}</dd>
        <dt className="text-faded">Kind</dt>
        <dd>
          {file.kind}
          {file.videoCodec && `, ${file.videoCodec}${file.audioCodec ? ` with ${file.audioCodec}` : ', silent'}`}
          {file.turn > 0 && `, turned by ${file.turn}°`}
        </dd>
        <dt className="text-faded">File</dt>
        <dd>
          <a className="link" href={mediaAddress(id, file.id)} target="_blank" rel="noreferrer">
            As it was sent here
          </a>
          <span className="text-faded">; networks get it without its place, date and maker.</span>
        </dd>
      </dl>
      <Uses file={file} onClose={onClose} />
    </div>
  );
}

/** A picture in words, and what matters most in it. */
function Described({ file }: { file: MediaFile }) {
  const describe = useDescribeMedia(file.id);
  const { tell } = useNotices();
  const [words, setWords] = useState(file.altText);
  const [focus, setFocus] = useState(file.focus);
  const isChanged = words !== file.altText || focus?.x !== file.focus?.x || focus?.y !== file.focus?.y;
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        describe.mutate(
          { altText: words, focus, fileName: null },
          { onSuccess: () => tell('Said of the picture. Posts that say nothing else of it say the same.') },
        );
      }}
    >
      <FocusPoint file={file} value={focus} onChange={setFocus} />
      <Field label="Alt text: the picture in words">
        {(id) => (
          <textarea
            id={id}
            rows={3}
            className="field"
            maxLength={limits.MediaRequest.altText.maxLength}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
      </Field>
      {describe.error && (
        <p role="alert" className="text-bad text-sm">
          {wordsOf(describe.error)}
        </p>
      )}
      <Button type="submit" variant="primary" className="self-start" disabled={!isChanged || describe.isPending}>
        Keep this with the picture
      </Button>
    </form>
  );
}

function Shown({ file }: { file: MediaFile }) {
  const { id } = useWorkspacePath();
  const setPoster = useSetPoster(file.id);
  const { trouble, tell } = useNotices();
  const [choosing, setChoosing] = useState(false);
  if (file.seconds === null)
    return (
      <p className="bg-wash p-6 text-center">
        <a className="link" href={mediaAddress(id, file.id)} target="_blank" rel="noreferrer">
          Open the document
        </a>
      </p>
    );
  return (
    <div>
      {/* biome-ignore lint/a11y/useMediaCaption: what somebody sent has no captions of its own */}
      <video
        controls
        preload="metadata"
        className="max-h-80 w-full bg-wash"
        src={mediaAddress(id, file.id)}
        poster={file.hasPoster ? mediaAddress(id, file.id, 640) : undefined}
      />
      <div className="mt-2 flex flex-wrap gap-2">
        <Button
          onClick={(event) => {
            const video = event.currentTarget.closest('[data-sheet]')?.querySelector('video');
            drawPoster(id, file, video?.currentTime).then(
              () => tell('This moment stands for the video now.'),
              (error) => trouble(wordsOf(error)),
            );
          }}
        >
          This moment stands for it
        </Button>
        <Button onClick={() => setChoosing(true)}>A picture stands for it …</Button>
      </div>
      {choosing && (
        <MediaChooser
          sort="picture"
          most={1}
          onClose={() => setChoosing(false)}
          onChosen={([picture]) => picture && setPoster.mutate(picture.id)}
        />
      )}
    </div>
  );
}

function Uses({ file, onClose }: { file: MediaFile; onClose: () => void }) {
  const { to } = useWorkspacePath();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  const uses = useMediaUses(file.id);
  const remove = useRemoveMedia();
  return (
    <Fetched query={uses} what="where it is used">
      {({ posts, sendings, sentTimes }) => (
        <section aria-label="Where it is used" className="border-rule border-t pt-3">
          <h3 className="mb-1 font-head font-semibold">
            {posts.length === 0 && sendings.length === 0
              ? 'Used nowhere'
              : `Used in ${posts.length} ${posts.length === 1 ? 'post' : 'posts'}, sent ${sentTimes} ${sentTimes === 1 ? 'time' : 'times'}`}
          </h3>
          <ul className="text-sm">
            {posts.map((post) => (
              <li key={post.post}>
                <Link className="link" to={to(`posts/${post.post}`)}>
                  {post.title || 'A post without a title'}
                </Link>
              </li>
            ))}
          </ul>
          {sendings.length > 0 && (
            <ul className="mt-2 text-sm" aria-label="Sent with">
              {sendings.map((sending) => (
                <li key={sending.delivery} className="flex items-baseline gap-2 border-rule border-b py-0.5">
                  <span className="w-40 shrink-0">{instantWords(sending.at, zone)}</span>
                  <ChannelName id={sending.channel} className="min-w-0 flex-1" />
                  <span className="text-faded">{stateWord(sending.state)}</span>
                </li>
              ))}
            </ul>
          )}
          {posts.length === 0 && sendings.length === 0 && (
            <Button
              className="mt-2"
              disabled={remove.isPending}
              onClick={() => remove.mutate([file.id], { onSuccess: onClose })}
            >
              Remove the file
            </Button>
          )}
        </section>
      )}
    </Fetched>
  );
}

import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Upload } from 'tus-js-client';
import { api, ask, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useWorkspacePath } from '../workspaces/workspace';
import { drawPoster, type MediaFile } from './media';

/** Where an upload stands: `checked` while the server looks into what has come. */
export type UploadState = 'waiting' | 'sending' | 'paused' | 'checked' | 'done' | 'failed';

export interface UploadLine {
  key: number;
  name: string;
  bytes: number;
  sent: number;
  state: UploadState;
  /** What went wrong, in words. */
  trouble: string | null;
}

/** So many are sent at the same time. */
const atOnce = 3;
const pieceBytes = 4 * 1024 * 1024;

interface Going {
  file: File;
  upload: Upload | null;
  isBegun: boolean;
  isPaused: boolean;
}

/**
 * Sends files in pieces: several at once, each with its own progress, to be paused, gone on with and cancelled. One that was broken off
 * goes on where it was when the same file is chosen again. Keys grow in the order in which files were chosen.
 */
export function useUploads(onDone: (file: MediaFile, key: number) => void) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const [lines, setLines] = useState<readonly UploadLine[]>([]);
  const going = useRef(new Map<number, Going>());
  const next = useRef(1);
  const done = useRef(onDone);
  done.current = onDone;

  const set = useCallback(
    (key: number, part: Partial<UploadLine>) =>
      setLines((all) => all.map((line) => (line.key === key ? { ...line, ...part } : line))),
    [],
  );

  /** What has come whole becomes a file of the workspace. */
  const end = useCallback(
    async (key: number, address: string) => {
      set(key, { state: 'checked' });
      try {
        const upload = address.split('/').at(-1) ?? '';
        const media = await ask(
          api.POST('/api/workspaces/{workspaceId}/uploads/{id}/media', { params: { path: { ...path, id: upload } } }),
        );
        if (media.seconds !== null && !media.hasPoster) await drawPoster(id, media).catch(() => {});
        set(key, { state: 'done' });
        done.current(media, key);
        setTimeout(() => setLines((all) => all.filter((line) => line.key !== key)), 4000);
        await refresh(client, id, ['media']);
      } catch (error) {
        set(key, { state: 'failed', trouble: wordsOf(error) });
      }
    },
    [client, id, path, set],
  );

  const send = useCallback(
    async (key: number) => {
      const one = going.current.get(key);
      if (!one || one.isBegun) return;
      one.isBegun = true;
      // Fetched when a first file is sent: most visits send none.
      const tus = await import('tus-js-client').catch(() => null);
      if (tus === null) {
        one.isBegun = false;
        return set(key, { state: 'failed', trouble: unsent });
      }
      const upload = new tus.Upload(one.file, {
        endpoint: `/api/workspaces/${id}/uploads`,
        chunkSize: pieceBytes,
        retryDelays: [0, 1000, 3000, 5000],
        metadata: { filename: one.file.name },
        removeFingerprintOnSuccess: true,
        onProgress: (sent) => set(key, { sent }),
        onError: (error) => set(key, { state: 'failed', trouble: troubleOf(error) }),
        onSuccess: () => void end(key, upload.url ?? ''),
      });
      one.upload = upload;
      const [before] = await upload.findPreviousUploads().catch(() => []);
      if (before) upload.resumeFromPreviousUpload(before);
      if (going.current.has(key) && !one.isPaused) upload.start();
    },
    [end, id, set],
  );

  // Whoever waits is sent as soon as there is room.
  useEffect(() => {
    const busy = lines.filter((l) => l.state === 'sending' || l.state === 'checked').length;
    for (const line of lines.filter((l) => l.state === 'waiting').slice(0, Math.max(0, atOnce - busy))) {
      set(line.key, { state: 'sending' });
      void send(line.key);
    }
  }, [lines, send, set]);

  const add = useCallback((files: readonly File[]) => {
    const added = files.map((file) => ({ key: next.current++, file }));
    for (const { key, file } of added) going.current.set(key, { file, upload: null, isBegun: false, isPaused: false });
    setLines((all) => [
      ...all,
      ...added.map(
        ({ key, file }): UploadLine => ({
          key,
          name: file.name,
          bytes: file.size,
          sent: 0,
          state: 'waiting',
          trouble: null,
        }),
      ),
    ]);
  }, []);

  const pause = (key: number) => {
    const one = going.current.get(key);
    if (one) one.isPaused = true;
    void one?.upload?.abort();
    set(key, { state: 'paused' });
  };

  const goOn = (key: number) => {
    const one = going.current.get(key);
    if (one) one.isPaused = false;
    set(key, { state: 'sending', trouble: null });
    if (one?.upload) one.upload.start();
    else void send(key);
  };

  const cancel = (key: number) => {
    const upload = going.current.get(key)?.upload;
    going.current.delete(key);
    setLines((all) => all.filter((line) => line.key !== key));
    // What has come of it is thrown away; where that can't be said now, the server does so by itself later.
    void upload?.abort(true).catch(() => {});
  };

  return { lines, add, pause, goOn, cancel };
}

export type Uploads = ReturnType<typeof useUploads>;

/** The server’s own words where it gave some. */
function troubleOf(error: Error): string {
  const body = (error as { originalResponse?: { getBody: () => string } | null }).originalResponse?.getBody();
  try {
    return (JSON.parse(body ?? '') as { detail?: string }).detail ?? unsent;
  } catch {
    return unsent;
  }
}

const unsent = 'It could not be sent. Go on with it in a moment; what has come is kept.';

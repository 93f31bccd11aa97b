import { Problem, wordsOf } from '../../api/client';
import { editOf, type Post, type PostEdit } from '../../posts/posts';
import { dropDraft, keepDraft, readDraft } from './drafts';

/** How what is on the desk stands to what is saved. */
export type Standing =
  | { kind: 'saved' }
  | { kind: 'typing' }
  | { kind: 'saving' }
  | { kind: 'failed'; words: string; again: boolean }
  | { kind: 'conflict' }
  /** It has no category yet, and is kept in the browser until one is chosen. */
  | { kind: 'uncategorised' }
  /** Saving would withdraw approvals: a person decides. */
  | { kind: 'asks'; networks: readonly string[] };

export interface DeskSnapshot {
  edit: PostEdit;
  standing: Standing;
  /** Null: not made yet. */
  id: string | null;
}

export interface DeskServer {
  save: (wanted: { id: string | null; version: number; edit: PostEdit }) => Promise<Post>;
  /** It was saved: other views may show it now. */
  onSaved: (post: Post) => void;
  onCreated: (id: string) => void;
  /** Somebody else saved another version: it is to be fetched. */
  onOutdated: (id: string | null) => void;
}

const saveAfter = 700;
const tryAgainAfter = 4000;

const sameEdit = (a: PostEdit, b: PostEdit) => a === b || JSON.stringify(a) === JSON.stringify(b);

const isBlank = (edit: PostEdit) =>
  !edit.title.trim() &&
  !Object.values(edit.content.common).some((value) => (typeof value === 'string' ? value.trim() : value));

type Phase = { kind: 'calm' | 'saving' | 'conflict' } | { kind: 'failed'; words: string; again: boolean };

/** A person decides something first: somebody else's version stands in the way, or there is no category. */
class Undecided extends Error {}

/**
 * What one post's desk knows: what is typed, what is saved, and how they stand. It saves by itself after a pause, and keeps in the browser
 * whatever the server hasn't got. It knows neither page nor network, so that it can be tried by itself.
 */
export class DeskStore {
  readonly #workspace: string;
  readonly #name: string;
  readonly #server: DeskServer;
  readonly #listeners = new Set<() => void>();
  #id: string | null;
  #version: number;
  /** As the server has it: as it was sent, since the server may tidy it, and that is no change to save again. */
  #saved: PostEdit;
  #edit: PostEdit;
  #phase: Phase;
  /** The newest version that somebody else made. */
  #theirs: Post | null = null;
  /** What saving would do to approvals; null: not known yet. */
  #loses: readonly string[] | null = [];
  #timer: ReturnType<typeof setTimeout> | undefined;
  #sending: Promise<Post> | null = null;
  #snapshot: DeskSnapshot;

  /** @param name - What a new post is kept under in the browser, until it is saved. */
  constructor(workspace: string, post: Post | null, blank: PostEdit, server: DeskServer, name = 'new') {
    this.#name = name;
    this.#workspace = workspace;
    this.#server = server;
    this.#id = post?.id ?? null;
    this.#version = post?.version ?? 0;
    this.#saved = post ? editOf(post) : blank;
    const draft = readDraft(workspace, this.#draftKey);
    const isTyped = draft !== null && !sameEdit(draft.edit, this.#saved);
    this.#edit = isTyped ? draft.edit : this.#saved;
    this.#phase = { kind: isTyped && draft.version !== this.#version ? 'conflict' : 'calm' };
    this.#snapshot = this.#look();
  }

  readonly subscribe = (listener: () => void) => {
    this.#listeners.add(listener);
    this.#plan();
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size === 0) clearTimeout(this.#timer);
    };
  };

  readonly snapshot = () => this.#snapshot;

  get isUnsaved() {
    return this.#isDirty && !(this.#id === null && isBlank(this.#edit));
  }

  readonly change = (part: Partial<PostEdit>) => {
    this.#edit = { ...this.#edit, ...part };
    if (this.#phase.kind === 'failed') this.#phase = { kind: 'calm' };
    this.#moved();
  };

  /** What came from the server by itself: taken over when nothing is typed here, else both are kept until a person chooses. */
  arrived(post: Post) {
    if (post.version <= this.#version) return;
    this.#theirs = post;
    // While a save is under way it may be that very save: what comes of it decides.
    if (this.#sending) return;
    this.#decide();
    this.#moved();
  }

  /** What saving would do to approvals. Nothing is saved by itself before that is known. */
  knows(loses: readonly string[] | null) {
    if (loses === this.#loses || JSON.stringify(loses) === JSON.stringify(this.#loses)) return;
    this.#loses = loses;
    this.#moved();
  }

  readonly saveAllTheSame = () => void this.#send(this.#edit, this.#version).catch(() => {});
  readonly leaveContent = () => this.change({ content: this.#saved.content });
  readonly keepMine = () =>
    void this.#send(this.#edit, Math.max(this.#theirs?.version ?? 0, this.#version)).catch(() => {});

  readonly takeTheirs = () => {
    if (!this.#theirs) return;
    dropDraft(this.#workspace, this.#draftKey);
    this.#adopt(this.#theirs);
    this.#moved();
  };

  /**
   * Saves at once, with something changed: what an act begins with. What is typed while it saves is saved afterwards.
   * @throws Problem when the server refuses; Undecided when somebody else's version stands in the way.
   */
  async saveWith(part: Partial<PostEdit>): Promise<Post> {
    this.change(part);
    while (this.#sending) await this.#sending.catch(() => {});
    if (this.#lacksCategory) throw new Undecided('Choose a category first.');
    if (this.#phase.kind === 'conflict')
      throw new Undecided('Somebody else saved another version of this post: choose one of the two first.');
    return this.#send(this.#edit, this.#version);
  }

  get #draftKey() {
    return this.#id ?? this.#name;
  }

  get #lacksCategory() {
    return this.#edit.categoryId === '';
  }

  get #isDirty() {
    return !sameEdit(this.#edit, this.#saved);
  }

  /** What becomes of the newest version that somebody else made. */
  #decide() {
    if (this.#theirs === null || this.#theirs.version <= this.#version) this.#theirs = null;
    else if (this.#isDirty) this.#phase = { kind: 'conflict' };
    else this.#adopt(this.#theirs);
  }

  #adopt(post: Post) {
    this.#version = post.version;
    this.#saved = editOf(post);
    this.#edit = this.#saved;
    this.#theirs = null;
    this.#phase = { kind: 'calm' };
  }

  #moved() {
    this.#plan();
    this.#tell();
  }

  #tell() {
    this.#snapshot = this.#look();
    for (const listener of this.#listeners) listener();
  }

  #look(): DeskSnapshot {
    return { edit: this.#edit, id: this.#id, standing: this.#standing() };
  }

  #standing(): Standing {
    if (this.#phase.kind === 'saving' || this.#phase.kind === 'conflict') return { kind: this.#phase.kind };
    if (!this.#isDirty) return { kind: 'saved' };
    if (this.#lacksCategory) return { kind: 'uncategorised' };
    if (this.#loses && this.#loses.length > 0) return { kind: 'asks', networks: this.#loses };
    return this.#phase.kind === 'failed' ? this.#phase : { kind: 'typing' };
  }

  /** Keeps here what the server hasn't got, and sends it after a pause. */
  #plan() {
    clearTimeout(this.#timer);
    if (!this.isUnsaved) return;
    keepDraft(this.#workspace, this.#draftKey, { version: this.#version, edit: this.#edit });
    if (this.#lacksCategory) return;
    const phase = this.#phase;
    if (phase.kind === 'saving' || phase.kind === 'conflict') return;
    if (phase.kind === 'failed' && !phase.again) return;
    if (this.#loses === null || this.#loses.length > 0) return;
    this.#timer = setTimeout(
      () => void this.#send(this.#edit, this.#version).catch(() => {}),
      phase.kind === 'failed' ? tryAgainAfter : saveAfter,
    );
  }

  #send(edit: PostEdit, version: number): Promise<Post> {
    clearTimeout(this.#timer);
    this.#phase = { kind: 'saving' };
    this.#tell();
    this.#sending = this.#sent(edit, version);
    return this.#sending;
  }

  async #sent(edit: PostEdit, version: number): Promise<Post> {
    const made = this.#id === null;
    try {
      const post = await this.#server.save({ id: this.#id, version, edit });
      dropDraft(this.#workspace, this.#draftKey);
      this.#id = post.id;
      this.#version = post.version;
      this.#saved = edit;
      this.#phase = { kind: 'calm' };
      this.#sending = null;
      this.#decide();
      this.#server.onSaved(post);
      if (made) this.#server.onCreated(post.id);
      return post;
    } catch (error) {
      this.#sending = null;
      const status = error instanceof Problem ? error.status : 0;
      if (status === 412 || status === 409) {
        this.#phase = { kind: 'conflict' };
        this.#server.onOutdated(this.#id);
      } else {
        this.#phase = { kind: 'failed', words: wordsOf(error), again: status === 0 || status >= 500 || status === 401 };
      }
      throw error;
    } finally {
      this.#moved();
    }
  }
}

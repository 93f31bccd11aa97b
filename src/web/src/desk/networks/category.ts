import type { Category } from '../../categories/categories';
import { noLayers } from '../../posts/content';
import type { PostEdit } from '../../posts/posts';

type Brings = Pick<Category, 'lifespan' | 'newPostsRotate' | 'hashtags'>;

/** What a post is before it has a category. */
const none: Brings = { lifespan: 'evergreen', newPostsRotate: true, hashtags: [] };

/** A category's hashtags, as they stand in a text. */
const tagsOf = (category: Brings) => category.hashtags.map((h) => `#${h}`).join(' ');

/** A new post, as its category says; null: it has none yet. */
export function blankEdit(category: Category | null, channels: readonly string[] | null): PostEdit {
  const brings = category ?? none;
  return {
    title: '',
    categoryId: category?.id ?? '',
    stage: 'draft',
    lifespan: brings.lifespan,
    inRotation: brings.newPostsRotate,
    channels: channels ? [...channels] : null,
    furtherCategories: [],
    from: null,
    to: null,
    gapDays: null,
    notes: '',
    content: { ...noLayers, common: { text: tagsOf(brings) }, wordings: [] },
  };
}

/**
 * What another category brings to a post that is being written: its hashtags, lifespan and part in the rotation, as far as the post still
 * has those of the one before. What somebody set by hand stays.
 */
export function inCategory(edit: PostEdit, before: Brings | undefined, after: Category): Partial<PostEdit> {
  if (edit.stage !== 'draft' && edit.stage !== 'idea') return { categoryId: after.id };
  const was = before ?? none;
  const text = String(edit.content.common.text ?? '');
  const brought = withTags(text, tagsOf(was), tagsOf(after));
  return {
    categoryId: after.id,
    furtherCategories: (edit.furtherCategories ?? []).filter((id) => id !== after.id),
    ...(edit.lifespan === was.lifespan && { lifespan: after.lifespan }),
    ...(edit.inRotation === was.newPostsRotate && { inRotation: after.newPostsRotate }),
    ...(brought !== text && { content: { ...edit.content, common: { ...edit.content.common, text: brought } } }),
  };
}

/** A text with other hashtags at its end: where those of before stand there still, or none at all do. */
function withTags(text: string, before: string, after: string): string {
  if (before && text.endsWith(before)) return `${text.slice(0, text.length - before.length)}${after}`.trimEnd();
  if (before || !after || text.includes('#')) return text;
  return text.trim() ? `${text.trimEnd()}\n\n${after}` : after;
}

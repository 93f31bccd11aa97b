import { expect, test } from 'vitest';
import type { Category } from '../../categories/categories';
import { blankEdit, inCategory } from './category';

const category = (given: Partial<Category>) =>
  ({ id: 'a', lifespan: 'evergreen', newPostsRotate: true, hashtags: [], ...given }) as Category;
const books = category({ id: 'books', hashtags: ['books', 'harbour'] });
const news = category({ id: 'news', lifespan: 'once', newPostsRotate: false, hashtags: ['news'] });
const plain = category({ id: 'plain' });
const textOf = (edit: { content?: { common: object } }) =>
  (edit.content?.common as { text?: string } | undefined)?.text;

test('a new post has no category, and begins as one says that it was begun from', () => {
  expect(blankEdit(null, null)).toMatchObject({
    categoryId: '',
    lifespan: 'evergreen',
    inRotation: true,
    channels: null,
  });
  expect(textOf(blankEdit(null, null))).toBe('');
  expect(blankEdit(news, ['c'])).toMatchObject({
    categoryId: 'news',
    lifespan: 'once',
    inRotation: false,
    channels: ['c'],
  });
  expect(textOf(blankEdit(news, null))).toBe('#news');
});

test('another category brings its own, as long as nobody set it by hand', () => {
  const begun = blankEdit(books, null);
  expect(inCategory(begun, books, news)).toMatchObject({ categoryId: 'news', lifespan: 'once', inRotation: false });
  expect(textOf(inCategory(begun, books, news))).toBe('#news');
  expect(inCategory({ ...begun, lifespan: 'onceAltogether' }, books, news)).not.toHaveProperty('lifespan');
  expect(inCategory({ ...begun, inRotation: false }, books, plain)).not.toHaveProperty('inRotation');
});

test('hashtags change places at the end of what was written, and hand-written ones stay', () => {
  const begun = blankEdit(books, null);
  const wrote = (text: string) => ({ ...begun, content: { ...begun.content, common: { text } } });
  expect(textOf(inCategory(wrote('A shelf of ropes #books #harbour'), books, news))).toBe('A shelf of ropes #news');
  expect(textOf(inCategory(wrote('A shelf of ropes #books #harbour'), books, plain))).toBe('A shelf of ropes');
  expect(inCategory(wrote('A shelf of #ropes'), books, news)).not.toHaveProperty('content');
  expect(textOf(inCategory(wrote('A shelf of ropes'), undefined, news))).toBe('A shelf of ropes\n\n#news');
  expect(inCategory(wrote('A shelf of #ropes'), undefined, news)).not.toHaveProperty('content');
});

test('what is ready or waits keeps all but its category', () => {
  expect(inCategory({ ...blankEdit(books, null), stage: 'ready' }, books, news)).toEqual({ categoryId: 'news' });
});

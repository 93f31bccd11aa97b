import { expect, test } from 'vitest';
import { noLayers, saying, withCommon, withValue } from './content';

const content = { ...noLayers, common: { text: 'a' }, wordings: [] };

test('nothing on purpose is not the same as nothing said', () => {
  expect(withValue({ text: 'a' }, 'pictures', null)).toEqual({ text: 'a', pictures: null });
  expect(withValue({ text: 'a', pictures: null }, 'pictures', undefined)).toEqual({ text: 'a' });
});

test('in common, what is taken away is not there', () => {
  expect(withCommon({ ...content, common: { text: 'a', link: 'l' } }, 'link', null).common).toEqual({ text: 'a' });
});

test('a network that says nothing of its own has no layer', () => {
  const own = saying(content, { wording: 0, network: 'jot' }, { text: 'b' });
  expect(own.networks).toEqual({ jot: { text: 'b' } });
  expect(saying(own, { wording: 0, network: 'jot' }, {}).networks).toEqual({});
});

import { examplesOf } from '../core/fields';
import { completionsOf } from './completions';

const typed = (text: string) => completionsOf(text, examplesOf('listing')).map((c) => c.typed);

test('the beginning of a field is completed to its name, a field of flags to each of them', () => {
  expect(typed('su')).toEqual(['supplier:']);
  expect(typed('SUPP')).toEqual(['supplier:']);
  expect(typed('is')).toEqual(['is:']);
  expect(typed('is:l')).toEqual(['is:live', 'is:leap', 'is:loss', 'is:lacking']);
  expect(typed('-is:pa')).toEqual(['-is:paused']);
  expect(typed('(mar')).toEqual(['(margin:']);
});

test('what is a word, a value or whole already is left alone', () => {
  for (const text of ['', 's', 'torch', 'is:live', 'cost:5', 'supplier:', '"su', 'a su'])
    expect([text, typed(text)]).toEqual([text, []]);
});

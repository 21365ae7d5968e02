import { problem, ProblemError, sentence } from '@/core/problem';
import { attempt, unwrap } from './result';

test('a value goes through', () => expect(unwrap(attempt(() => 5))).toBe(5));

test('a problem crosses as data and is thrown again with all its parts', () => {
  const result = JSON.parse(
    JSON.stringify(
      attempt(() => {
        throw problem('code', 'file:3', 'What.', 'Why.', 'Mend.');
      }),
    ),
  ) as ReturnType<typeof attempt>;
  expect(() => unwrap(result)).toThrow(ProblemError);
  expect(() => unwrap(result)).toThrow('file:3: What. Why. Mend.');
});

test('other errors are not hidden', () => {
  expect(() =>
    attempt(() => {
      throw new TypeError('a mistake of ours');
    }),
  ).toThrow(TypeError);
});

test('a sentence leaves out what is empty', () => {
  expect(sentence({ code: 'c', where: '', what: 'What.', why: '', mend: 'Mend.' })).toBe(
    'What. Mend.',
  );
});

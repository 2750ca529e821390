import { needed, number, oneOf, readWords, WrongWords } from './words';

const OPTIONS = { near: { type: 'string' }, far: { type: 'string' }, invert: { type: 'boolean' } } as const;

describe('the command’s words', () => {
  test('a negative number after an option is its value, in every spelling', () => {
    expect({ ...readWords(['--near', '-40', '--far', '12.5', '--invert'], OPTIONS) }).toEqual({
      near: '-40',
      far: '12.5',
      invert: true,
    });
    expect({ ...readWords(['--near', '-.5', '--far=-3'], OPTIONS) }).toEqual({ near: '-.5', far: '-3' });
  });
  test.each([
    ['an unknown option', ['--nearer', '3'], "Unknown option '--nearer'"],
    ['a word that is no option', ['left.png'], "Unexpected argument 'left.png'"],
    ['no value', ['--near'], "Option '--near <value>' argument missing"],
    ['a value where none belongs', ['--invert=yes'], "Option '--invert' does not take an argument"],
  ])('%s is wrong words, in one sentence', (_what, words, says) => {
    const wrong = (): unknown => readWords(words, OPTIONS);
    expect(wrong).toThrow(WrongWords);
    expect(wrong).toThrow(says);
    try {
      wrong();
    } catch (e) {
      expect((e as Error).message).not.toContain('\n');
    }
  });
  test('what is needed is named', () => {
    expect(() => needed('out', undefined)).toThrow('--out is needed.');
    expect(() => needed('out', '')).toThrow('--out is needed.');
    expect(needed('out', 'a b')).toBe('a b');
  });
  test('numbers are numbers, or their fallback where nothing is said', () => {
    expect([number('near', '-1e2'), number('views', undefined, 2)]).toEqual([-100, 2]);
    for (const bad of ['ten', '1,5', 'NaN', 'Infinity', '3px'])
      expect(() => number('near', bad)).toThrow(`--near takes a number, not '${bad}'.`);
    expect(() => number('near', undefined)).toThrow('--near is needed.');
  });
  test('one of a few words, or the list of them', () => {
    expect([oneOf('holes', 'keep', ['keep', 'fill']), oneOf('holes', undefined, ['keep', 'fill'], 'fill')]).toEqual([
      'keep',
      'fill',
    ]);
    expect(() => oneOf('holes', 'Keep', ['keep', 'fill'])).toThrow("--holes takes keep, fill, not 'Keep'.");
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cleanText } from './clean-text.ts';

describe('cleanText', () => {
  it.each([
    ['<b>Max</b>', '   max    '],
    ['a&nbsp;b', 'a      b'],
    ['2′30″', '2\'30"'],
    ['1–2 − 3', '1-2 - 3'],
    ['5 × 4', '5 x 4'],
    ['A\u0000B\u200bC', 'a b c'],
    ['9 a.m. sharp', '9   am sharp'],
    ['< 120 MB', '< 120 mb'],
    ['x &lt; 3', 'x <    3'],
  ])('%j becomes %j', (text, cleaned) => expect(cleanText(text)).toBe(cleaned));

  it('puts blocks on lines of their own, and leaves out scripts', () => {
    expect(
      cleanText('<p>one</p>')
        .split('\n')
        .map((line) => line.trim()),
    ).toEqual(['', 'one', '']);
    expect(cleanText('a<script>at most 5 MB</script>b').replace(/\s+/g, ' ')).toBe('a b');
  });

  it('keeps the length of any text, so that positions stay', () => {
    const keepsLength = (text: string) => cleanText(text).length === text.length;
    fc.assert(fc.property(fc.string({ unit: 'binary' }), keepsLength));
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            '<p>',
            '</p>',
            '&amp;',
            'İ',
            'ß',
            'a.m.',
            '<script>',
            '</script>',
            '<!--',
            '-->',
            'x',
            '\n',
          ),
        ),
        (parts) => keepsLength(parts.join('')),
      ),
    );
  });
});

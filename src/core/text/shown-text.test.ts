import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shownText, shownTexts } from './shown-text';

describe('a text from a file', () => {
  it.each([
    ['line\r\nfeed', 'line␍␊feed'],
    ['nul\0', 'nul␀'],
    ['lone\ud800surrogate', 'lone\ufffdsurrogate'],
    ['\u202egnitirw', '\ufffdgnitirw'],
    ['\ufeffmark', '\ufffdmark'],
    ['l\u2028s', 'l\ufffds'],
    ['upper_arm.L', 'upper_arm.L'],
    ['ひじ 😀', 'ひじ 😀'],
  ])('%j is shown as %j', (text, shown) => expect(shownText(text)).toBe(shown));

  it('survives the way through a page and is never cut by a browser, whatever it holds', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 3_000 }), (text) => {
        const shown = shownText(text);
        expect(shown.length).toBeLessThanOrEqual(1_000);
        expect(shown).not.toMatch(/[\0-\x1f]/);
        expect(new TextDecoder('utf-8', { ignoreBOM: true }).decode(new TextEncoder().encode(shown))).toBe(shown);
        expect(shownText(shown)).toBe(shown);
      }),
      { seed: 7, numRuns: 300 },
    );
  });

  it('is looked for in every part of a structure; what needs no change stays the very same', () => {
    const rig = { bones: [{ name: 'a\rb', at: [1, 2] }, { name: 'plain' }], none: null };
    const shown = shownTexts(rig);
    expect(shown).toEqual({ bones: [{ name: 'a␍b', at: [1, 2] }, { name: 'plain' }], none: null });
    expect(shown.bones[1]).toBe(rig.bones[1]);
    expect(shownTexts(shown)).toBe(shown);
  });
});

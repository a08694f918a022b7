import { describe, expect, it } from 'vitest';
import type { YarvoError } from '../errors/yarvo-error';
import { nameTemplate } from './name-template';

const parts = { character: 'Eel seller', motion: 'Walk to the left' };

describe('a template of file names', () => {
  it('fills in the parts, folders and the version', () => {
    const { path, base } = nameTemplate('out/{character}/TL_{character}-{motion}_v{version}');
    expect(path(parts, 7)).toBe('out/eel-seller/TL_eel-seller-walk-to-the-left_v007');
    expect(base(parts)).toBe('out/eel-seller/tl_eel-seller-walk-to-the-left_v*');
  });

  it('never makes a name that some systems keep for devices', () => {
    expect(nameTemplate('{character}/{motion}').path({ character: 'Con', motion: 'LPT1' }, 1)).toBe(
      'con-1/lpt1-1-v001',
    );
  });

  it('gives a version a place where it has none, so that nothing is written twice', () => {
    expect(nameTemplate('{motion}').path(parts, 2)).toBe('walk-to-the-left-v002');
  });

  it.each([
    ['{clip}', /no part \{clip\}/],
    ['../{motion}', /has no name/],
    ['/{motion}', /has no name/],
    ['a//{motion}', /has no name/],
    ['{motion}.', /has no name/],
    ['C:\\{motion}', /cannot stand in a file name/],
    ['{motion}?', /"\?" cannot stand/],
    ['CON/{motion}', /"CON" is a name that some systems keep/],
    ['out/aux.{version}', /keep for devices/],
  ])('%s is refused', (template, message) => {
    try {
      nameTemplate(template);
      expect.unreachable();
    } catch (error) {
      expect((error as YarvoError).problem.code).toBe('bad-template');
      expect((error as YarvoError).problem.message).toMatch(message);
    }
  });
});

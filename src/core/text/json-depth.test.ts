import { expect, it } from 'vitest';
import { nestsDeeper } from './json-depth';

it('tells how deep brackets nest, and leaves those in strings out', () => {
  expect(nestsDeeper('[[[]]]', 3)).toBe(false);
  expect(nestsDeeper('[[[]]]', 2)).toBe(true);
  expect(nestsDeeper('[{"a":[1]},{"b":{}}]', 3)).toBe(false);
  expect(nestsDeeper('["[[[[", "\\"[[["]', 1)).toBe(false);
  expect(nestsDeeper('[][][][]', 1)).toBe(false);
  expect(nestsDeeper('['.repeat(1_000_000), 64)).toBe(true);
});

import { compileDialect, type Dialect } from '@/core/dialect/dialect';
import { foldText, tokenise } from '@/core/dialect/tokenise';
import { SHIPPED_DIALECT } from '@/core/dialect/dialect-data';
import { CAST } from '../../demo/cast/cast';

/** The shipped dialect without any word that a bone of the demo cast is called by: what is right then was not learned there. */
export function dialectWithoutDemo(): Dialect {
  const demo = new Set(
    Object.values(CAST)
      .flatMap(({ truth }) => Object.keys(truth ?? {}))
      .flatMap((name) => {
        const tokens = tokenise(name)
          .filter((token) => !token.isNumber)
          .map((token) => token.text);
        return [...tokens, tokens.join('')];
      })
      .map(foldText),
  );
  return compileDialect({
    ...SHIPPED_DIALECT,
    lists: SHIPPED_DIALECT.lists.map((list) => ({
      ...list,
      entries: list.entries.flatMap(([words, meaning]) => {
        const kept = words.split(/\s+/).filter((word) => !demo.has(foldText(word)));
        return kept.length > 0 ? [[kept.join(' '), meaning] as [string, typeof meaning]] : [];
      }),
    })),
  });
}

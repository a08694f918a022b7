import { z } from 'zod';

/**
 * An array whose length is judged before its elements: one that is too long costs one message, not one for each
 * element.
 */
export const boundedArray = <Element extends z.ZodType>(element: Element, most: number, least = 0) =>
  z.array(z.unknown()).min(least).max(most).pipe(z.array(element));

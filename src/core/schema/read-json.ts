import type { z } from 'zod';

/** What a text holds as JSON; undefined for what is none, which no schema takes. */
export function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

/** All that a schema says against a value, each fault with its field. */
export const faultsOf = ({ issues }: z.ZodError): string =>
  issues.map(({ path, message }) => `${path.join('.') || 'top'}: ${message}`).join('; ');

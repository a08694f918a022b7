import { randomBytes } from 'node:crypto';

/** A value that no page can guess, once for each answer. */
export const makeNonce = (): string => randomBytes(16).toString('base64');

/**
 * Content-Security-Policy of every page: our own scripts, named by the nonce, and nothing from anywhere else. Style
 * attributes are how positions and colours of single elements are set; they can run nothing.
 */
export const contentPolicy = (nonce: string): string =>
  [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    `style-src-elem 'self' 'nonce-${nonce}'`,
    "style-src-attr 'unsafe-inline'",
    "style-src 'self'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');

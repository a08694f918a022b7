import type { Figure } from '../figure/write-figure';
import { eelSeller } from './eel-seller';
import { lamplighter } from './lamplighter';
import { netMender } from './net-mender';

/** Who is in the demo, by file name. */
export const CAST: Readonly<Record<string, () => Figure>> = {
  lamplighter,
  'eel-seller': eelSeller,
  'net-mender': netMender,
};

import type { TurnAxis } from '@/core/posture/turn-roles';

export const AXIS_TEXT: Readonly<Record<TurnAxis, string>> = {
  hinge: 'bend',
  bone: 'twist',
  left: 'swing',
  front: 'raise',
  up: 'in, out',
};

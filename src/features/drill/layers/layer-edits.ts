import type { Definition } from '@/core/definition/definition';
import { angleOf, conjugate, IDENTITY, multiply, normalise, type Quat } from '@/core/math/quat';
import type { Carrying } from '@/core/motion/carry-options';
import type { Layer, LayerOf } from '@/core/motion/layer';
import type { ContactPart } from '@/core/motion/motion';
import type { DrillStance } from '@/workers/browser/drill.worker';

/** The same with a layer put in the place of the one of its id, or added at the end. */
export function withLayer<Some extends Pick<Carrying, 'layers'>>(carrying: Some, layer: Layer): Some {
  const isKnown = carrying.layers.some(({ id }) => id === layer.id);
  const layers = isKnown
    ? carrying.layers.map((each) => (each.id === layer.id ? layer : each))
    : [...carrying.layers, layer];
  return { ...carrying, layers };
}

/** The q that a role gets on top when it is turned by Q in the world while D q, with q of before, stands. */
export const turnOnTop = (before: Quat, change: Quat, world: Quat): Quat =>
  normalise(multiply(before, multiply(conjugate(change), multiply(world, change))));

/** The switched-on turn layer of a role on just this motion, that further keys belong to; null where there is none. */
export const turnLayerOf = (layers: readonly Layer[], role: string, motion: string): LayerOf<'turn'> | null =>
  layers.find(
    (layer): layer is LayerOf<'turn'> =>
      layer.kind === 'turn' && layer.isOn && layer.role === role && layer.motion === motion,
  ) ?? null;

/** Keys closer than this are one. */
const SAME_SECONDS = 0.02;
/** A first key comes and goes over so long. */
const AROUND_SECONDS = 0.4;

/** A layer with a key set at a moment. The first key of a new layer stands between two that turn nothing. */
export function keyedLayer(
  layer: LayerOf<'turn'> | null,
  fresh: Pick<LayerOf<'turn'>, 'id' | 'name' | 'role' | 'motion'>,
  key: LayerOf<'turn'>['keys'][number],
  seconds: number,
): LayerOf<'turn'> {
  if (layer) {
    const others = layer.keys.filter(({ at }) => Math.abs(at - key.at) > SAME_SECONDS);
    return { ...layer, keys: [...others, key].sort((a, b) => a.at - b.at) };
  }
  const still = (at: number) => ({ at, turn: IDENTITY });
  const [from, to] = [key.at - AROUND_SECONDS, key.at + AROUND_SECONDS];
  return {
    ...fresh,
    kind: 'turn',
    isOn: true,
    span: null,
    keys: [...(from > 0 ? [still(from)] : []), key, ...(to < seconds ? [still(to)] : [])],
  };
}

/** Roles of a line that a pose can be held of, with what they hold in a stance. */
export function heldOf(
  definition: Definition,
  stance: DrillStance,
  lines: readonly string[],
): LayerOf<'held'>['turns'] {
  const roles = definition.lines.filter(({ id }) => lines.includes(id)).flatMap((line) => line.roles);
  return Object.fromEntries(
    roles.flatMap((role) => {
      const turn = stance.heldTurns[role];
      return turn ? [[role, turn] as const] : [];
    }),
  );
}

/** A hand or foot kept where and how it is in a stance; null where the character has none. */
export function targetOf(
  { places, inFigure, changes, heading }: DrillStance,
  part: ContactPart,
  within: 'world' | 'figure',
): Omit<LayerOf<'target'>, 'id' | 'name' | 'isOn' | 'motion' | 'span'> | null {
  const place = (within === 'world' ? places : inFigure)[part];
  const change = changes[part];
  if (!place || !change) return null;
  const turn = within === 'world' ? change : multiply(conjugate(heading), change);
  return { kind: 'target', part, in: within, place, turn, holdsTurn: true };
}

/** In a few words what a layer does. */
export function layerText(layer: Layer, labelOf: (role: string) => string): string {
  switch (layer.kind) {
    case 'turn': {
      const most = Math.max(...layer.keys.map(({ turn }) => (angleOf(turn) * 180) / Math.PI));
      const keys = layer.keys.length === 1 ? 'constant' : `${layer.keys.length} keys`;
      return `${labelOf(layer.role)} by up to ${most.toFixed(1)}°, ${keys}`;
    }
    case 'target':
      return [
        layer.in === 'world' ? 'stays at a place on the way' : 'goes along with the figure',
        layer.holdsTurn ? 'turned as it was' : 'turned as the motion turns it',
      ].join(', ');
    case 'figure':
      return `${(layer.heightMetres * 100).toFixed(1)} cm up, ${layer.headingDeg.toFixed(1)}° to the left`;
    case 'held':
      return `${Object.keys(layer.turns).length} roles hold their pose`;
  }
}

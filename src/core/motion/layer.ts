import { z } from 'zod';
import { CONTACT_PARTS } from './motion';

const TurnSchema = z.tuple([z.number(), z.number(), z.number(), z.number()]).readonly();
const PlaceSchema = z.tuple([z.number(), z.number(), z.number()]).readonly();

const LAYER = {
  id: z.string().min(1).max(40),
  name: z.string().trim().min(1).max(80),
  isOn: z.boolean(),
  /** The one motion that it lies on, an id of the shelf or "house-walk"; null for all. */
  motion: z.string().min(1).max(60).nullable(),
  /** When it works, seconds; null for always. It comes and goes over `ease` seconds, within the span. */
  span: z
    .strictObject({ from: z.number().nonnegative(), to: z.number().nonnegative(), ease: z.number().nonnegative() })
    .nullable(),
};

/** Turns of a role on top of what is carried, between them eased; one key is a constant turn. */
const TurnLayerSchema = z.strictObject({
  ...LAYER,
  kind: z.literal('turn'),
  role: z.string().min(1).max(60),
  /** At so many seconds, q: the role's own turn comes to D q, in the body axes of the reference posture; x y z w. */
  keys: z
    .array(z.strictObject({ at: z.number().nonnegative(), turn: TurnSchema }))
    .min(1)
    .max(200),
});

/** Leads a hand or a foot to a place. */
const TargetLayerSchema = z.strictObject({
  ...LAYER,
  kind: z.literal('target'),
  part: z.enum(CONTACT_PARTS),
  /** world: a place on the floor that the motion passes, as a rail. figure: it goes along with the hips and their heading. */
  in: z.enum(['world', 'figure']),
  /** Of wrist or ankle; body axes, metres; in the figure from under its hips. */
  place: PlaceSchema,
  /** D of hand or foot against the reference posture, in the axes that the place is in; x y z w. */
  turn: TurnSchema.optional(),
  /** Whether it is turned so as well, as a hand that lies on a rail; else it keeps the turn that the motion gives it. */
  holdsTurn: z.boolean().optional(),
});

/** Height and heading of the whole figure. */
const FigureLayerSchema = z.strictObject({
  ...LAYER,
  kind: z.literal('figure'),
  heightMetres: z.number().min(-20).max(20),
  /** About where it stands in the first frame; positive to its left. */
  headingDeg: z.number().min(-720).max(720),
});

/** A pose that some roles hold, as carrying a bag: each role's turn against what it hangs on stays. */
const HeldLayerSchema = z.strictObject({
  ...LAYER,
  kind: z.literal('held'),
  /** Role -> R: with D of what it hangs on the role comes to D R; body axes of the reference posture, x y z w. */
  turns: z.record(z.string().min(1).max(60), TurnSchema),
});

/** An adjustment on top of carried motion, that can be switched off and taken away without a trace. */
export const LayerSchema = z.discriminatedUnion('kind', [
  TurnLayerSchema,
  TargetLayerSchema,
  FigureLayerSchema,
  HeldLayerSchema,
]);
export type Layer = z.infer<typeof LayerSchema>;
export type LayerOf<Kind extends Layer['kind']> = Extract<Layer, { readonly kind: Kind }>;

/** Layers that work on a motion. @param motion its key; null for one that has none: only those for all motions do. */
export const layersOn = (layers: readonly Layer[], motion: string | null): Layer[] =>
  layers.filter((layer) => layer.isOn && (layer.motion === null || layer.motion === motion));

/** How much of a layer works at a moment, 0 to 1. */
export function layerShare({ span }: Layer, seconds: number): number {
  if (!span) return 1;
  const { from, to, ease } = span;
  if (seconds < from || seconds > to) return 0;
  if (ease <= 0) return 1;
  const share = Math.min(1, (seconds - from) / ease, (to - seconds) / ease);
  return share * share * (3 - 2 * share);
}

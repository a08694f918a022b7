import { conjugate, multiply, normalise, rotate, type Quat } from '../math/quat';
import { keepSign, quatAt } from '../math/quat-arrays';
import { add, subtract, type Vec3 } from '../math/vec3';
import type { CarriedFrames } from './carry-frames';
import type { CarryPlan } from './carry-plan';
import { JointWalk } from './joint-walk';

/**
 * Changes a carried frame by the worlds of some bones: what hangs on them goes along, also where a rig's bones do not hang
 * on what carries them, and what is written are local transforms of the same bones as before. Holds scratch: one frame at
 * a time.
 */
export class WorldEdit {
  readonly walk: JointWalk;
  /** Bones, each after the one that carries it. */
  private readonly order: readonly number[];
  private readonly carriers: Int32Array;
  private readonly drivenAt: ReadonlyMap<number, number>;
  private readonly placedAt: ReadonlyMap<number, number>;
  private readonly turns: Quat[];
  private readonly places: Vec3[];
  private readonly wantedTurns = new Map<number, Quat>();
  private readonly wantedPlaces = new Map<number, Vec3>();
  private current: { readonly frames: CarriedFrames; readonly frame: number } | null = null;

  constructor(
    private readonly plan: CarryPlan,
    private readonly placedBones: readonly number[],
  ) {
    const { bones } = plan.target.rig;
    this.walk = new JointWalk(plan, placedBones);
    this.carriers = Int32Array.from(bones, ({ index, parent }) => plan.loose.get(index) ?? parent);
    this.order = carriedOrder(this.carriers);
    this.drivenAt = new Map(plan.driven.map(({ boneIndex }, at) => [boneIndex, at]));
    this.placedAt = new Map(placedBones.map((bone, at) => [bone, at]));
    this.turns = bones.map(() => [0, 0, 0, 1]);
    this.places = bones.map(() => [0, 0, 0]);
  }

  /** Walks a frame, counted from the first of `frames`; what was wanted before is forgotten. */
  begin(frames: CarriedFrames, frame: number): void {
    this.current = { frames, frame };
    this.wantedTurns.clear();
    this.wantedPlaces.clear();
    this.walk.walk(frames, frame);
  }

  turnOf(bone: number): Quat {
    return this.walk.turnOf(bone);
  }

  placeOf(bone: number): Vec3 {
    return this.walk.placeOf(bone);
  }

  /** @param turn world turn that the bone is to have. It must be one that the plan drives. */
  setTurn(bone: number, turn: Quat): void {
    this.wantedTurns.set(bone, turn);
  }

  /** @param place where the bone's joint is to be; one whose place the plan writes. Body frame, metres. */
  setPlace(bone: number, place: Vec3): void {
    this.wantedPlaces.set(bone, place);
  }

  /** Writes what was wanted, and what follows from it. */
  commit(): void {
    if (!this.current) throw new Error('WorldEdit: committed before a frame was begun');
    const { plan, carriers, turns, places } = this;
    for (const bone of this.order) {
      const carrier = carriers[bone];
      const change = carrier < 0 ? null : multiply(turns[carrier], conjugate(this.turnOf(carrier)));
      const own = this.turnOf(bone);
      turns[bone] = this.wantedTurns.get(bone) ?? (change ? multiply(change, own) : own);
      places[bone] =
        this.wantedPlaces.get(bone) ??
        (change
          ? add(places[carrier], rotate(change, subtract(this.placeOf(bone), this.placeOf(carrier))))
          : this.placeOf(bone));
    }
    for (const bone of this.order) {
      const isLoose = plan.loose.has(bone);
      if (isLoose || this.wantedTurns.has(bone)) this.writeTurn(bone);
      if (isLoose || this.wantedPlaces.has(bone)) this.writePlace(bone);
    }
  }

  /** How far the space of a bone turned with what it hangs on in the file. */
  private spaceChange(bone: number): Quat {
    const { parent } = this.plan.target.rig.bones[bone];
    return parent < 0 ? [0, 0, 0, 1] : multiply(this.turns[parent], conjugate(this.turnOf(parent)));
  }

  private writeTurn(bone: number): void {
    const { frames, frame } = this.current as NonNullable<typeof this.current>;
    const at = this.drivenAt.get(bone);
    if (at === undefined) return;
    const row = this.plan.driven.length * 4;
    const start = frame * row + at * 4;
    const space = multiply(this.spaceChange(bone), quatAt(this.walk.spaces, bone * 4));
    frames.rotations.set(normalise(multiply(conjugate(space), this.turns[bone])), start);
    if (frame > 0) keepSign(frames.rotations, start, start - row);
  }

  private writePlace(bone: number): void {
    const { frames, frame } = this.current as NonNullable<typeof this.current>;
    const at = this.placedAt.get(bone);
    if (at === undefined) return;
    const start = (frame * this.placedBones.length + at) * 3;
    const { scale } = this.plan.spaces[bone];
    const space = quatAt(this.walk.spaces, bone * 4);
    const { translations } = frames;
    const local: Vec3 = [translations[start], translations[start + 1], translations[start + 2]];
    const reach = rotate(space, [local[0] * scale, local[1] * scale, local[2] * scale]);
    // Where the space begins, before and after what it hangs on moved.
    const origin = subtract(this.placeOf(bone), reach);
    const { parent } = this.plan.target.rig.bones[bone];
    const change = this.spaceChange(bone);
    const moved =
      parent < 0 ? origin : add(this.places[parent], rotate(change, subtract(origin, this.placeOf(parent))));
    const next = rotate(conjugate(multiply(change, space)), subtract(this.places[bone], moved));
    for (let k = 0; k < 3; k++) frames.translations[start + k] = next[k] / scale;
  }
}

/** Bones, each after its carrier, which may stand later in the file. */
function carriedOrder(carriers: Int32Array): number[] {
  const order: number[] = [];
  const seen = new Set<number>();
  const visit = (bone: number): void => {
    if (bone < 0 || seen.has(bone)) return;
    seen.add(bone);
    visit(carriers[bone]);
    order.push(bone);
  };
  for (let bone = 0; bone < carriers.length; bone++) visit(bone);
  return order;
}

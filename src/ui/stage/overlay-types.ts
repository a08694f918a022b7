import type { Vec3 } from '@/core/math/vec3';
import type { JointPlaces } from './place-set';
import type { PaneView } from './projection';

/** A bone as the stage draws it. Where it lies is told apart: that changes with each pose, and this does not. */
export interface StageBone {
  readonly index: number;
  readonly name: string;
  /** Bone that the rod comes from, -1 for none. */
  readonly parent: number;
  readonly side: 'left' | 'right' | 'centre' | 'spare';
}

export interface OverlayTheme {
  readonly left: string;
  readonly right: string;
  readonly centre: string;
  readonly ink: string;
  readonly quiet: string;
  readonly ground: string;
  readonly accent: string;
  readonly alarm: string;
}

/** A change of the tree that is about to be made, by the places of its joints. */
export interface PlannedChange {
  readonly rods: readonly (readonly [from: Vec3, to: Vec3])[];
  readonly joints: readonly Vec3[];
  readonly gone: readonly Vec3[];
}

/** A handle to turn a segment by: an arc about a joint with a knob on it. Places in metres, body axes. */
export interface TurnHandle {
  readonly centre: Vec3;
  /** Axis of a positive turn, unit. */
  readonly axis: Vec3;
  /** Where the knob stands before the turn, unit, across the axis. */
  readonly from: Vec3;
  readonly degrees: number;
  readonly stepDegrees: number;
  readonly text: string;
}

/** Where a limb is taken to fold though no pose shows it; metres, body axes. */
export interface AssumedHinge {
  readonly at: Vec3;
  /** Unit. */
  readonly axis: Vec3;
}

/** Another skeleton on the stage: the source of a motion, or another character in it. */
export interface Companion {
  readonly label: string;
  readonly bones: readonly StageBone[];
  readonly points: JointPlaces;
  /** How far it is moved aside, metres. */
  readonly offset: Vec3;
  /** Dashed: what the motion was read from. */
  readonly isDashed: boolean;
}

/** A way on the floor. */
export interface DrawnPath {
  /** Three numbers for each place: metres, body axes. */
  readonly points: JointPlaces;
  readonly look: 'hips' | 'root';
}

/** What a game moves a character by. Metres, body axes. */
export interface DrawnCapsule {
  readonly radius: number;
  readonly height: number;
  /** Where its lower end stands along its way, three numbers each. */
  readonly bases: JointPlaces;
  /** Where it stands now; null while nothing plays. */
  readonly now: Vec3 | null;
}

export interface OverlayState {
  readonly bones: readonly StageBone[];
  readonly points: JointPlaces;
  /** Places before a change, drawn dashed; null for none. */
  readonly before: JointPlaces | null;
  readonly selected: number | null;
  /** Bones that are picked along with the selected one. */
  readonly alsoPicked: ReadonlySet<number>;
  readonly hovered: number | null;
  readonly highlighted: ReadonlySet<number>;
  /** Size of the joints' rings, 1 as usual. */
  readonly jointScale: number;
  /** Names beside all mapped joints, not only the one in focus. */
  readonly hasLabels: boolean;
  /** The only bones to draw and to pick; null for all. */
  readonly isolated: ReadonlySet<number> | null;
  readonly planned: PlannedChange | null;
  readonly handles: ReadonlyMap<PaneView, TurnHandle>;
  readonly hinges: readonly AssumedHinge[];
  readonly companions: readonly Companion[];
  readonly paths: readonly DrawnPath[];
  readonly capsule: DrawnCapsule | null;
  /** Points that bear on the floor, three numbers each. */
  readonly bearing: JointPlaces;
}

export const NOTHING_DRAWN: OverlayState = {
  bones: [],
  points: new Float64Array(0),
  before: null,
  selected: null,
  alsoPicked: new Set(),
  hovered: null,
  highlighted: new Set(),
  jointScale: 1,
  hasLabels: false,
  isolated: null,
  planned: null,
  handles: new Map(),
  hinges: [],
  companions: [],
  paths: [],
  capsule: null,
  bearing: new Float64Array(0),
};

export type Project = (point: Vec3) => [number, number] | null;

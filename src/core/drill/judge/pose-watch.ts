import type { Side } from '../../definition/definition';
import type { Geometry } from '../../geometry/geometry';
import { solesOn } from '../../ground/sole-points';
import { legLength } from '../../motion/fitted-rig';
import type { RootTravel } from '../../motion/carry-options';
import type { Motion } from '../../motion/motion';
import { referenceFigure } from '../../motion/reference-figure';
import { selectFeet, type FootSelections } from '../../posture/soles';
import type { DrillLimits } from '../../profile/drill-limits';
import { carryTo, type CarrySubject } from '../carry-subject';
import { bodyBones, fitBody, type BodyShape } from './body-shape';
import { houseClearance, measureClearance } from './clearance-measures';
import { trackFigure } from './figure-track';
import { measureFeet, soleBones } from './foot-measures';
import { breachesOf, type Measure } from './measure';

/** What a motion does to the feet and the room of a figure in one pose. */
export interface PoseReading {
  readonly measures: readonly Measure[];
  /** Names of the measures that leave their band. */
  readonly out: readonly string[];
  /** What lengths are counted in, metres. */
  readonly leg: number;
}

/** Room changes slowly: it is measured so many times a second. */
const ROOM_RATE = 15;

/**
 * Measures one motion on one character pose after pose, without asking for causes: what a person looks at while correcting
 * a pose. What does not depend on the pose is worked out once: the feet's vertices, the body's capsules and the source's
 * own room. Soles and slides are taken in every frame, room about fifteen times a second.
 */
export class PoseWatch {
  private readonly feet: FootSelections | null;
  private readonly shape: BodyShape | null;
  private readonly source: ReadonlyMap<string, Float64Array>;
  private readonly roles: string;

  /** @param first the character in any pose: a later one differs from it in its pose and its layers alone. */
  constructor(
    private readonly motion: Motion,
    { target }: CarrySubject,
    private readonly geometry: Geometry | null,
  ) {
    this.roles = rolesText(target);
    const { standing } = referenceFigure(target, target.spares);
    this.feet = geometry && selectFeet(target, geometry);
    this.shape = geometry && fitBody(target, standing, geometry);
    this.source = this.shape ? houseClearance(motion, target.definition) : new Map<string, Float64Array>();
  }

  /** Whether a figure can be measured by what was worked out here. */
  isFor(motion: Motion, { target }: CarrySubject, geometry: Geometry | null): boolean {
    return motion === this.motion && geometry === this.geometry && rolesText(target) === this.roles;
  }

  measure({ target, carrying }: CarrySubject, travel: RootTravel, limits: DrillLimits): PoseReading {
    const { motion, shape, source } = this;
    const { standing } = referenceFigure(target, target.spares);
    const soles = solesOn(target, standing, this.feet, carrying.contactPoints);
    const leg = legLength(target, standing);
    const { carrier } = carryTo(motion, { target, carrying, soles }, travel);
    const bones = [...new Set([...soleBones(soles), ...(shape ? bodyBones(shape) : [])])];
    const track = trackFigure(carrier, bones);
    const nameOf = (bone: number): string => target.rig.bones[bone].name;
    const namesOf = (side: Side): string[] => {
      const foot = target.roleBones.get(`${side}Foot`);
      return foot === undefined ? [] : [nameOf(foot)];
    };
    const every = Math.max(1, Math.round(motion.framesPerSecond / ROOM_RATE));
    const measures = [
      ...measureFeet({ motion, track, soles, leg, limits, namesOf }),
      ...(shape ? measureClearance({ shape, track, leg, limits, source, nameOf, every }) : []),
    ];
    const out = measures.filter((measure) => breachesOf(measure, 1).length > 0).map(({ name }) => name);
    return { measures, out, leg };
  }
}

const rolesText = ({ roleBones }: CarrySubject['target']): string => JSON.stringify([...roleBones]);

'use client';

import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import { roleBonesOf } from '@/core/fit/fit';
import { turnRoleBy } from '@/core/posture/turn-roles';
import { newId } from '@/ui/new-id';
import { signedDegrees } from '@/ui/text';
import type { DrillJudged } from '@/workers/browser/drill-judged';
import { useCharacter } from '../../character/character-context';
import { valueText } from '../chart/lanes';
import { evidenceOf } from './evidence';
import { withLayer } from './layer-edits';
import type { FrameTurn } from './use-frame-turn';

interface TurnOfferProps {
  readonly offer: FrameTurn;
  readonly judged: DrillJudged | null;
  /** The flag in focus: its measure tells how constant the error is. */
  readonly flag: DrillFlag | null;
  readonly onDone: () => void;
}

/** A bone was turned right at a frame: it can become a layer, a change of the posture, or nothing. */
export function TurnOffer({ offer, judged, flag, onDone }: TurnOfferProps) {
  const { character, definition, fit, act } = useCharacter();
  const { role, turn, degrees, frame, layer } = offer;
  const { carrying, posture } = fit.state;
  const label = definition.roles.find(({ id }) => id === role)?.label ?? role;
  const bone = fit.state.assignments[role]?.boneIndex;
  const name = bone === undefined ? '' : character.rig.bones[bone].name;
  const measure =
    judged?.measures.find((each) => each.name === flag?.measure) ??
    judged?.measures.find((each) => each.bones.includes(name) && evidenceOf(each)?.out);
  const evidence = measure && evidenceOf(measure);
  const keep = (next: typeof layer): void => {
    act({ kind: 'set-carrying', change: { layers: withLayer(carrying, next).layers } });
    onDone();
  };
  const takeAsPosture = (): void => {
    const { rig, normalisation } = character;
    const input = { rig, definition, normalisation, roleBones: roleBonesOf(fit.state) };
    const pose = turnRoleBy(input, posture, role, turn);
    act({
      kind: 'set-pose',
      origin: 'drill',
      label,
      pose: { rotations: pose.rotations, shift: pose.shift },
    });
    onDone();
  };
  const isForPosture = evidence?.isConstant ?? false;
  return (
    <section
      aria-label="Turn at this frame"
      className="flex shrink-0 items-center gap-2 border-t border-base-300 bg-(--accent-wash) px-3 py-1 text-[13px]"
    >
      <p className="min-w-0 flex-1">
        <span className="font-semibold">
          {label} turned by {signedDegrees(degrees, false)} at frame {frame}.
        </span>{' '}
        {measure && evidence && judged
          ? `${measure.subject[0].toUpperCase()}${measure.subject.slice(1)} is out in ${evidence.out} of ${evidence.frames} frames and varies by ${valueText(evidence.spread, measure.unit, judged.leg)}: ${isForPosture ? 'the same all along, which speaks for the posture.' : 'it comes and goes, which speaks for a layer.'}`
          : 'Nothing is measured out of bounds on it.'}
      </p>
      <button className={`btn btn-xs ${isForPosture ? '' : 'btn-primary'}`} onClick={() => keep(layer)}>
        Layer, keyed here
      </button>
      <button
        className="btn btn-xs"
        onClick={() => keep({ ...layer, id: newId(), keys: [{ at: layer.keys[0].at, turn }] })}
      >
        Constant layer
      </button>
      <button className={`btn btn-xs ${isForPosture ? 'btn-primary' : ''}`} onClick={takeAsPosture}>
        Into the posture
      </button>
      <button className="btn btn-ghost btn-xs" onClick={onDone}>
        Nothing
      </button>
    </section>
  );
}

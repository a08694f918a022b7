'use client';

import { useState, type ReactNode } from 'react';
import type { FitAction } from '@/core/fit/actions/fit-actions';
import type { ArmClearance } from '@/core/posture/clearance';
import type { PostureSheet } from '@/core/posture/posture-sheet';
import { capitalised, centimetresText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { ArmOffsetForm } from './ArmOffsetForm';
import { MeasureTable } from './MeasureTable';
import type { MeshMeasures } from './use-posture-report';

/** Whole-body measures, and what is put right by them: soles, straight limbs, the arms of a heavy body. */
export function BodyPanel({ mesh }: { mesh: MeshMeasures }) {
  const { report, isStale, hasFailed } = mesh;
  if (hasFailed) {
    return (
      <p role="alert" className="px-4 py-2 text-[13px] text-error">
        The mesh could not be measured here. Reload the page to try again.
      </p>
    );
  }
  if (!report) {
    return (
      <p role="status" className="quiet px-4 py-2 text-[13px]">
        Measuring the mesh …
      </p>
    );
  }
  return (
    <section aria-label="Soles and limbs" className="min-h-0 flex-1 overflow-auto pb-3 text-[13px]">
      <p role="status" className="quiet float-right px-4 pt-2">
        {isStale ? 'Measuring anew …' : ''}
      </p>
      <div className={isStale ? 'opacity-60' : ''}>
        <Soles mesh={mesh} sheet={report.sheet} legs={report.legs} />
        <Limbs limbs={report.sheet.limbs} />
        <Arms clearance={report.clearance} />
        <Block title="The whole body">
          <MeasureTable sheet={report.sheet} />
          <button className="btn mt-2 btn-xs" disabled={isStale} onClick={() => window.print()}>
            Print the posture sheet
          </button>
        </Block>
      </div>
    </section>
  );
}

function Block({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="border-b border-base-300 px-4 py-2 last:border-b-0">
      <h2 className="font-semibold">{title}</h2>
      {children}
    </div>
  );
}

const cm = (value: number | null): string => (value === null ? '–' : `${value.toFixed(1)} cm`);

interface SolesProps {
  readonly mesh: MeshMeasures;
  readonly sheet: PostureSheet;
  readonly legs: { readonly longer: 'left' | 'right'; readonly metres: number } | null;
}

function Soles({ mesh, sheet, legs }: SolesProps) {
  const { fit, act } = useCharacter();
  const [bends, setBends] = useState(false);
  const [isBusy, setBusy] = useState(false);
  const { left, right } = sheet.sides;
  const level = async () => {
    setBusy(true);
    const bendsLonger = bends && legs !== null;
    const pose = await mesh.level(fit.state.posture, bendsLonger);
    setBusy(false);
    if (!pose) return;
    act({
      kind: 'set-pose',
      origin: bendsLonger ? 'knees' : 'soles',
      label: bendsLonger ? `the ${legs.longer} knee` : 'the soles',
      pose: pose as Extract<FitAction, { kind: 'set-pose' }>['pose'],
    });
  };
  const canLevel = sheet.solesFrom === 'mesh';
  return (
    <Block title="Soles">
      <p>
        Left {cm(left.soleCm)}, right {cm(right.soleCm)} above the floor, measured on the{' '}
        {canLevel ? 'mesh' : 'bones, since no mesh shows the feet'}
        {left.solePitchDeg !== null && right.solePitchDeg !== null
          ? `; they lean ${left.solePitchDeg.toFixed(1)}° and ${right.solePitchDeg.toFixed(1)}° from heel to toe.`
          : '.'}
      </p>
      {legs && (
        <label className="mt-1 flex items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={bends}
            onChange={(event) => setBends(event.target.checked)}
          />
          Bend the {legs.longer} knee: that leg reaches {centimetresText(legs.metres)} further down
        </label>
      )}
      <button className="btn mt-1.5 btn-xs" disabled={!canLevel || mesh.isStale || isBusy} onClick={() => void level()}>
        Put both soles flat on the floor
      </button>
    </Block>
  );
}

const LIMB_TEXT: Readonly<Record<string, string>> = {
  leftArm: 'left elbow',
  rightArm: 'right elbow',
  leftLeg: 'left knee',
  rightLeg: 'right knee',
};
const SHOWN_TEXT: Readonly<Record<PostureSheet['limbs'][number]['shownBy'], string>> = {
  pose: 'shows how it folds',
  elsewhere: 'straight; another pose shows the fold',
  assumed: 'straight in every pose; hinge assumed',
};

function Limbs({ limbs }: { limbs: PostureSheet['limbs'] }) {
  const { definition, fit, act } = useCharacter();
  const { elbowRad, kneeRad } = definition.smallBend;
  const straight = limbs.filter(({ shownBy }) => shownBy !== 'pose').length;
  const states = elbowRad > 0 || kneeRad > 0;
  const whole = (rad: number) => `${((rad * 180) / Math.PI).toFixed(0)}°`;
  return (
    <Block title="Elbows and knees">
      <ul>
        {limbs.map(({ limb, bendDeg, shownBy }) => (
          <li key={limb} className="flex gap-2">
            <span className="w-24">{capitalised(LIMB_TEXT[limb] ?? limb)}</span>
            <span className="w-12 text-right tabular-nums">{bendDeg.toFixed(1)}°</span>
            <span className={shownBy === 'assumed' ? 'text-warning' : 'quiet'}>{SHOWN_TEXT[shownBy]}</span>
          </li>
        ))}
      </ul>
      {states && (
        <label className="mt-1.5 flex items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={fit.state.hasSmallBend}
            disabled={straight === 0 && !fit.state.hasSmallBend}
            title={straight === 0 ? 'No elbow or knee is straight' : undefined}
            onChange={(event) => act({ kind: 'set-small-bend', isOn: event.target.checked })}
          />
          Hand off straight limbs with {definition.label}&apos;s small bend: elbows {whole(elbowRad)}, knees{' '}
          {whole(kneeRad)}
        </label>
      )}
    </Block>
  );
}

/** "The left hand and forearm go 2.1 cm into the body; holding the arm 9 degrees away frees it." */
function clearanceText({ side, metres, offsetDeg }: ArmClearance): string {
  const arm = `Hanging, the ${side} forearm and hand`;
  const room =
    metres < 0
      ? `${arm} go ${centimetresText(-metres)} into the body`
      : `${arm} keep ${centimetresText(metres)} from the body`;
  if (offsetDeg === 0) return `${room}: room enough.`;
  return offsetDeg === null
    ? `${room}; no angle up to 45 degrees frees them.`
    : `${room}; held ${offsetDeg} degrees away they have room.`;
}

function Arms({ clearance }: { clearance: readonly ArmClearance[] }) {
  return (
    <Block title="Arms beside the body">
      {clearance.length === 0 ? (
        <p className="quiet">No mesh shows arms and body, so their distance cannot be measured.</p>
      ) : (
        <ul>
          {clearance.map((arm) => (
            <li key={arm.side} className={arm.offsetDeg === 0 ? '' : 'text-warning'}>
              {clearanceText(arm)}
            </li>
          ))}
        </ul>
      )}
      <ArmOffsetForm clearance={clearance} />
    </Block>
  );
}

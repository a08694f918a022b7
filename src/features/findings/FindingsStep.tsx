'use client';

import Link from 'next/link';
import { CircleAlert, Info, OctagonAlert } from 'lucide-react';
import { useState } from 'react';
import { SEVERITIES, type Finding, type Severity } from '@/core/checks/finding';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { stepAddress } from '../character/step-address';
import { useSelection } from '../character/use-selection';
import { RepairPanel } from './RepairPanel';
import { WaivedList } from './WaivedList';
import { WaiveForm } from './WaiveForm';
import { DrillFindings } from './DrillFindings';
import { MorphPanel } from './MorphPanel';
import { useMorphPreview } from './use-morph-preview';
import { capitalised } from '@/ui/text';

const SEVERITY_LOOKS: Record<Severity, { Icon: typeof Info; tone: string; plural: string }> = {
  blocker: { Icon: OctagonAlert, tone: 'text-error', plural: 'blockers' },
  caution: { Icon: CircleAlert, tone: 'text-warning', plural: 'cautions' },
  note: { Icon: Info, tone: 'quiet', plural: 'notes' },
};
const FIX_AT: Record<string, 'match' | 'posture' | 'intake'> = {
  'required-roles': 'match',
  'tree-order': 'match',
  doubts: 'match',
  'reference-pose': 'posture',
  'unit-and-axes': 'intake',
};

/** What stands between this character and the engine, as sentences. */
export function FindingsStep() {
  useListening('findings');
  const { character, fit, profile, act } = useCharacter();
  const { bone, select } = useSelection();
  const [shown, setShown] = useState<number | null>(fit.findings.length > 0 ? 0 : null);
  const [hovered, setHovered] = useState<number | null>(null);
  const morphs = useMorphPreview();
  const finding = shown === null ? undefined : fit.findings[shown];
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)]">
      <main className="min-h-0 overflow-auto p-5">
        <h2 className="flex flex-wrap items-baseline gap-2 font-semibold">
          For
          <select
            aria-label="Engine profile"
            className="select w-auto select-sm"
            value={profile.id}
            disabled={fit.state.isClosed}
            onChange={(event) => act({ kind: 'set-profile', profile: event.target.value })}
          >
            {character.profiles.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
          <span className="font-normal">version {profile.version}</span>
          <span className="quiet font-normal">{summary(fit.findings)}</span>
        </h2>
        <RepairPanel />
        {fit.findings.length === 0 && <p className="quiet mt-3">Nothing to report: the character can be handed off.</p>}
        <ol className="mt-3 space-y-2">
          {fit.findings.map((entry, at) => (
            <FindingItem key={entry.key} finding={entry} isShown={at === shown} onShow={() => setShown(at)} />
          ))}
        </ol>
        <WaivedList />
        <DrillFindings />
        <MorphPanel preview={morphs} />
      </main>
      <div className="min-h-0 border-l border-base-300 *:h-full">
        <CharacterStage
          selected={bone}
          hovered={hovered}
          highlighted={new Set(finding?.boneIndices)}
          onPick={(next) => select({ bone: next })}
          onHover={setHovered}
          attach={morphs.attach}
        />
      </div>
    </div>
  );
}

function summary(findings: readonly Finding[]): string {
  const parts = SEVERITIES.map((severity) => {
    const count = findings.filter((finding) => finding.severity === severity).length;
    return count > 0 ? `${count} ${count === 1 ? severity : SEVERITY_LOOKS[severity].plural}` : '';
  });
  return parts.filter(Boolean).join(', ');
}

function FindingItem({ finding, isShown, onShow }: { finding: Finding; isShown: boolean; onShow: () => void }) {
  const { character } = useCharacter();
  const { Icon, tone } = SEVERITY_LOOKS[finding.severity];
  const step = FIX_AT[finding.check];
  const [isWaiving, setWaiving] = useState(false);
  const names = [...finding.boneIndices.map((bone) => character.rig.bones[bone].name), ...finding.parts];
  return (
    <li className={`rounded-box border bg-base-100 p-3 ${isShown ? 'border-primary' : 'border-base-300'}`}>
      <div className="flex items-start gap-3">
        <Icon aria-hidden className={`mt-0.5 size-4 shrink-0 ${tone}`} />
        <div className="min-w-0 flex-1">
          <p className="font-medium">
            <span className={`mr-1.5 font-normal ${tone}`}>{capitalised(finding.severity)}</span>
            {finding.sentence}
          </p>
          <dl className="mt-1 grid grid-cols-[5.5rem_1fr] text-[13px]">
            <dt className="quiet">Measured</dt>
            <dd>{finding.measured}</dd>
            <dt className="quiet">Allowed</dt>
            <dd>{finding.allowed}</dd>
          </dl>
          <p className="quiet mt-1 text-[13px]">
            {finding.why} {finding.remedy}
          </p>
          {isWaiving && <WaiveForm finding={finding} onClose={() => setWaiving(false)} />}
          {isShown && names.length > 0 && (
            <p className="mt-1 font-mono text-xs break-words">
              {names.slice(0, 24).join(', ')}
              {names.length > 24 && ` and ${names.length - 24} more`}
            </p>
          )}
        </div>
        <div className="flex shrink-0 gap-1">
          {finding.boneIndices.length > 0 && (
            <button className="btn btn-ghost btn-xs" aria-pressed={isShown} onClick={onShow}>
              Show
            </button>
          )}
          {finding.severity !== 'note' && !isWaiving && (
            <button className="btn btn-ghost btn-xs" onClick={() => setWaiving(true)}>
              Waive
            </button>
          )}
          {finding.moment && (
            <Link
              className="btn btn-xs"
              href={stepAddress(character, 'drill', { motion: finding.moment.motion, frame: finding.moment.frame })}
            >
              Go to frame {finding.moment.frame}
            </Link>
          )}
          {step && (
            <Link className="btn btn-xs" href={stepAddress(character, step, placeOf(finding))}>
              Go to {step}
            </Link>
          )}
        </div>
      </div>
    </li>
  );
}

/** Where a finding lies, as the address of a screen says it. */
function placeOf({ roles: [role], boneIndices: [bone] }: Finding): Record<string, string | number> {
  if (!role) return {};
  return bone === undefined ? { role } : { role, bone };
}

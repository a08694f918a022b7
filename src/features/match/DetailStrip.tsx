'use client';

import { roleOf } from '@/core/definition/definition';
import { sparesOf } from '@/core/fit/fit';
import { PROPOSED_THRESHOLD } from '@/core/match/verdict/confidence';
import type { PlannedRepair } from '@/core/intake/plan-repair';
import { SPARE_KINDS, type SpareKind } from '@/core/match/context/match-types';
import { ConfidenceBar } from '@/ui/ConfidenceBar';
import { capitalised, percentText } from '@/ui/text';
import { useSeen } from '@/ui/use-kept';
import { FirstVisit } from './FirstVisit';
import { useCharacter } from '../character/character-context';
import { useSelection } from '../character/use-selection';
import { RepairButton } from './RepairButton';

interface DetailStripProps {
  readonly role: string | null;
  readonly bone: number | null;
  readonly isWaiting: boolean;
  readonly onPickBone: (bone: number) => void;
  readonly onStopWaiting: () => void;
  readonly onExplain: () => void;
  readonly onPreview: (plan: PlannedRepair | null) => void;
}

/** Why this bone and not the runner-up; between map and stage, never over them. */
export function DetailStrip({
  role,
  bone,
  isWaiting,
  onPickBone,
  onStopWaiting,
  onExplain,
  onPreview,
}: DetailStripProps) {
  return (
    <section aria-label="Details" className="h-[86px] overflow-auto border-y border-base-300 bg-base-100 px-4 py-2">
      {role ? (
        <RoleDetails
          role={role}
          isWaiting={isWaiting}
          onPickBone={onPickBone}
          onStopWaiting={onStopWaiting}
          onExplain={onExplain}
        />
      ) : bone !== null ? (
        <SpareDetails bone={bone} onPreview={onPreview} />
      ) : (
        <Hint />
      )}
    </section>
  );
}

function Hint() {
  const { character } = useCharacter();
  const [isSeen, markSeen] = useSeen('line-map');
  if (!isSeen) return <FirstVisit onDone={markSeen} />;
  if (character.rig.bones.length === 0)
    return (
      <p className="quiet pt-5">
        The file holds no skeleton, so there is nothing to put onto the roles. What it does hold is listed on Intake.
      </p>
    );
  return (
    <p className="quiet pt-5">
      Pick a stop on the map, then the bone that belongs there, here on the stage or in the list. Solid bars are
      settled, half bars proposed, a question mark is a doubt, an empty bar is vacant.
    </p>
  );
}

function RoleDetails({
  role,
  isWaiting,
  onPickBone,
  onStopWaiting,
  onExplain,
}: Omit<DetailStripProps, 'bone' | 'role' | 'onPreview'> & { role: string }) {
  const { character, definition, fit, act } = useCharacter();
  const label = definition.roles.some((candidate) => candidate.id === role) ? roleOf(definition, role).label : role;
  const assignment = fit.state.assignments[role];
  const match = character.match.assignments[role];
  const isOwn = assignment && match?.boneIndex === assignment.boneIndex;
  const candidates = match
    ? [
        { boneIndex: match.boneIndex, confidence: match.confidence, evidence: match.evidence },
        ...match.runnersUp.filter((runner, at) => at === 0 || runner.confidence >= 0.01),
      ].slice(0, 3)
    : [];
  const name = (index: number) => character.rig.bones[index].name;
  return (
    <div className="grid grid-cols-[9.5rem_minmax(0,1fr)_auto] items-center gap-4">
      <div>
        <h2 className="text-base font-semibold">{label}</h2>
        <p
          className={`truncate font-mono text-[12.5px] ${assignment?.state === 'doubtful' ? 'text-warning' : 'quiet'}`}
        >
          {assignment ? name(assignment.boneIndex) : 'Vacant'}
          {assignment && !isOwn && ' · by hand'}
        </p>
        {isWaiting && (
          <p className="text-[13px] text-primary">{assignment ? 'Or pick another bone' : 'Now pick its bone'}</p>
        )}
      </div>
      <ul className="min-w-0 space-y-0.5">
        {candidates.length === 0 && <li className="quiet">The first pass found no bone for this role.</li>}
        {candidates.map((candidate) => (
          <li key={candidate.boneIndex} className="flex min-w-0 items-center gap-2.5 text-[13px]">
            <button
              className="w-32 shrink-0 link truncate text-left font-mono text-[12.5px] font-semibold link-hover"
              title={`Put ${name(candidate.boneIndex)} here`}
              onClick={() => {
                onStopWaiting();
                if (assignment?.boneIndex !== candidate.boneIndex)
                  act({ kind: 'assign', role, boneIndex: candidate.boneIndex });
                onPickBone(candidate.boneIndex);
              }}
            >
              {name(candidate.boneIndex)}
            </button>
            <ConfidenceBar
              value={candidate.confidence}
              isDoubtful={candidate.confidence < PROPOSED_THRESHOLD}
              width={56}
            />
            <span className="w-10 shrink-0 text-right tabular-nums">{percentText(candidate.confidence)}</span>
            <span
              className={`quiet min-w-0 ${candidates.length > 2 ? 'truncate' : 'line-clamp-2 leading-tight'}`}
              title={candidate.evidence.join(' · ')}
            >
              {candidate.evidence.join(' · ')}
            </span>
          </li>
        ))}
      </ul>
      <div className="flex items-center gap-1.5">
        {candidates.length > 0 && (
          <button className="btn btn-ghost btn-sm" title="Why this bone and not another (E)" onClick={onExplain}>
            Why?
          </button>
        )}
        {assignment && (
          <button className="btn btn-ghost btn-sm" onClick={() => act({ kind: 'clear', role })}>
            Clear
          </button>
        )}
        {assignment && assignment.state !== 'settled' && (
          <button
            className="btn btn-primary btn-sm"
            onClick={() => {
              onStopWaiting();
              act({ kind: 'settle', roles: [role] });
            }}
          >
            Accept
          </button>
        )}
        {assignment?.state === 'settled' && <span className="px-2 text-success">Settled</span>}
      </div>
    </div>
  );
}

function SpareDetails({ bone, onPreview }: { bone: number } & Pick<DetailStripProps, 'onPreview'>) {
  const { character, definition, fit, act } = useCharacter();
  const { select } = useSelection();
  const { rig, match } = character;
  const entry = rig.bones[bone];
  if (!entry) return <p className="quiet pt-5">This link names a bone that the rig does not have.</p>;
  const spare = sparesOf(match, fit.state).find((candidate) => candidate.boneIndex === bone);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-4">
      <div>
        <h2 className="font-mono text-[13px] font-semibold">{entry.name}</h2>
        <p className="mt-1">
          {bone === match.rootBone
            ? 'The root: it leads the skeleton.'
            : spare
              ? `Spare, ${spare.kind}: ${spare.reason}.`
              : 'It has no role.'}
          {spare && spare.ridesOn >= 0 && ` It moves with ${rig.bones[spare.ridesOn].name}.`}
        </p>
        <p className="quiet text-[13px]">
          {entry.skinVertexCount > 0
            ? `Carries ${entry.skinVertexCount.toLocaleString('en')} vertices.`
            : 'Carries no vertices.'}{' '}
          Drag it onto a stop, or pick its role here.
        </p>
      </div>
      <div className="flex flex-wrap justify-end gap-1.5">
        {spare && (
          <select
            aria-label="Kind of spare"
            className="select w-28 select-sm"
            value={spare.kind}
            onChange={(event) =>
              act({ kind: 'set-spare-kind', bones: [bone], spareKind: event.target.value as SpareKind })
            }
          >
            {SPARE_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {capitalised(kind)}
              </option>
            ))}
          </select>
        )}
        {entry.parent >= 0 && (
          <RepairButton
            plan={{ kind: 'collapse', bones: [bone] }}
            title={`Its weights and children go to ${rig.bones[entry.parent].name}`}
            onPreview={onPreview}
          >
            Merge into parent
          </RepairButton>
        )}
        {entry.parent >= 0 && (
          <RepairButton
            plan={{ kind: 'insert', bones: [bone] }}
            title={`A new joint half-way from ${rig.bones[entry.parent].name}`}
            onPreview={onPreview}
          >
            Insert a joint above
          </RepairButton>
        )}
        <select
          aria-label="Give it a role"
          className="select w-40 select-sm"
          value=""
          onChange={(event) => {
            const role = event.target.value;
            act({ kind: 'assign', role, boneIndex: bone });
            select({ role, bone });
          }}
        >
          <option value="">Give it a role …</option>
          {definition.roles.map((role) => (
            <option key={role.id} value={role.id}>
              {role.label}
              {fit.state.assignments[role.id] ? '' : ' (vacant)'}
            </option>
          ))}
        </select>
      </div>
    </div>
  );
}

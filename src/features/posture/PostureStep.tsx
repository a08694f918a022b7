'use client';

import { useDeferredValue, useMemo, useState } from 'react';
import { withAligned } from '@/core/posture/posture';
import { classifyPosture } from '@/core/posture/classify-posture';
import { limbHinges } from '@/core/posture/hinges';
import { measurePosture } from '@/core/posture/measure-posture';
import { translationOf } from '@/core/math/mat4';
import { filePoses } from '@/core/rig/local-pose';
import { computeWorlds, isRest, REST_POSE, type RigPose } from '@/core/rig/pose';
import { toBody } from '@/core/frame/normalise';
import type { StageGhost } from '@/ui/stage/figure-set';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { Choice } from '@/ui/Choice';
import { useSelection } from '../character/use-selection';
import { AlignPanel } from './AlignPanel';
import { BodyPanel } from './BodyPanel';
import { ComparePanel } from './ComparePanel';
import { InMotion } from './InMotion';
import { PostureHead } from './PostureHead';
import { PostureLedger } from './PostureLedger';
import { PostureSheetPrint } from './PostureSheetPrint';
import { TakePanel } from './TakePanel';
import { axisOfView, turnHandlesOf } from './turn-handles';
import { TurnPanel } from './TurnPanel';
import { useAlignInput } from './use-align-input';
import { usePicked } from './use-picked';
import { usePostureReport } from './use-posture-report';
import { useTurning } from './use-turning';

const FOUR_VIEWS = ['front', 'side', 'top', 'free'] as const;

const PANELS = ['turn', 'align', 'take', 'body', 'compare'] as const;
type PanelName = (typeof PANELS)[number];
const PANEL_TEXT: Readonly<Record<PanelName, string>> = {
  turn: 'Turn',
  align: 'Align',
  take: 'Take a pose',
  body: 'Soles and limbs',
  compare: 'Before, after',
};

/** The reference pose: measured, aligned, turned by hand, taken from elsewhere, beside the three flat views and the free one. */
export function PostureStep() {
  useListening('posture');
  const { character, definition, fit } = useCharacter();
  const { bone } = useSelection();
  const input = useAlignInput();
  const [panel, setPanel] = useState<PanelName>('turn');
  const [hovered, setHovered] = useState<number | null>(null);
  const [ghosts, setGhosts] = useState({ before: false, reference: false });
  const [isDashed, setDashed] = useState(true);
  const [isMoving, setMoving] = useState(false);
  /** A pose that is looked at before it is taken. */
  const [preview, setPreview] = useState<RigPose | null>(null);
  const { picked, pick, pickBone } = usePicked();
  const turning = useTurning(picked);
  const pose = preview ?? turning.pose;
  // While a turn goes on the stage and its number follow; the list is measured when it ends, and pale until then.
  const isTurning = turning.live !== null && !preview;
  const measured = useDeferredValue(isTurning ? turning.base : pose);
  const measure = useMemo(
    () => measurePosture({ ...input, worlds: computeWorlds(input.rig, measured) }),
    [input, measured],
  );
  const summary = useMemo(() => classifyPosture(measure, definition), [measure, definition]);
  const mesh = usePostureReport(pose, panel === 'body' || fit.state.posture.aligned.length > 0);
  const role = picked[0] ?? null;
  const { about, base, live, step } = turning;
  const handles = useMemo(
    () => turnHandlesOf(input, panel === 'turn' && !preview ? role : null, { about, base, live, step }, FOUR_VIEWS),
    [input, panel, preview, role, about, base, live, step],
  );
  const shownGhosts = useMemo(() => {
    const shown: StageGhost[] = [];
    if (ghosts.before) shown.push({ pose: REST_POSE, tint: 'before' });
    if (ghosts.reference) shown.push({ pose: withAligned(input, fit.state.posture, null), tint: 'reference' });
    return shown;
  }, [ghosts, input, fit.state.posture]);
  const hinges = useMemo(() => (panel === 'body' ? assumedHinges(input, measured) : []), [panel, input, measured]);
  const alsoPicked = useMemo(
    () => new Set(turning.roles.flatMap((each) => input.roleBones.get(each) ?? [])),
    [turning.roles, input],
  );
  const choose = (next: PanelName) => {
    setPreview(null);
    setPanel(next);
  };
  return (
    <>
      <div className="grid h-full min-h-0 grid-cols-[430px_1fr] print:hidden">
        <main className="flex min-h-0 flex-col border-r border-base-300 bg-base-100">
          <PostureHead
            sentence={summary.sentence}
            deviations={measure.deviations}
            picked={picked}
            isChanged={!isRest(fit.state.posture)}
            mesh={mesh}
            onSoles={() => choose('body')}
            preview={preview}
            onPreview={setPreview}
          />
          <div role="tablist" aria-label="Posture" className="flex gap-0.5 border-b border-base-300 px-3 text-[13px]">
            {PANELS.map((name) => (
              <button
                key={name}
                role="tab"
                aria-selected={panel === name}
                className={`-mb-px border-b-2 px-2 py-1 ${panel === name ? 'border-primary font-semibold text-primary' : 'quiet border-transparent hover:text-base-content'}`}
                onClick={() => choose(name)}
              >
                {PANEL_TEXT[name]}
              </button>
            ))}
          </div>
          {panel === 'turn' && <TurnPanel picked={picked} turning={turning} pose={turning.pose} />}
          {panel === 'align' && <AlignPanel picked={picked} />}
          {panel === 'take' && <TakePanel mesh={mesh} preview={preview} onPreview={setPreview} />}
          {panel === 'body' && <BodyPanel mesh={mesh} />}
          {panel === 'compare' && <ComparePanel now={measure.deviations} />}
          {(panel === 'turn' || panel === 'align') && (
            <div className="flex gap-1 border-t border-base-300 px-3 pt-1 text-[13px]">
              <Choice isOn={!isMoving} onClick={() => setMoving(false)}>
                Roles
              </Choice>
              <Choice isOn={isMoving} onClick={() => setMoving(true)}>
                In motion
              </Choice>
            </div>
          )}
          {(panel === 'turn' || panel === 'align') && isMoving && <InMotion pose={pose} />}
          {(panel === 'turn' || panel === 'align') && !isMoving && (
            <PostureLedger
              deviations={measure.deviations}
              picked={picked}
              isStale={measured !== pose}
              onPick={pick}
              onHover={setHovered}
            />
          )}
        </main>
        <CharacterStage
          selected={role === null ? bone : (input.roleBones.get(role) ?? bone)}
          alsoPicked={alsoPicked}
          hovered={hovered}
          onPick={pickBone}
          onHover={setHovered}
          onTurn={(view, degrees, isDone) => turning.drag(axisOfView(view, turning.about), degrees, isDone)}
          views={FOUR_VIEWS}
          pose={pose}
          showBefore={isDashed && !isRest(pose)}
          ghosts={shownGhosts}
          handles={handles}
          hinges={hinges}
          more={
            <fieldset className="flex gap-1">
              <legend className="sr-only">Compare with</legend>
              <span className="quiet py-0.5">Original</span>
              <Choice isOn={isDashed} onClick={() => setDashed(!isDashed)}>
                Dashed
              </Choice>
              <Choice isOn={ghosts.before} onClick={() => setGhosts({ ...ghosts, before: !ghosts.before })}>
                Ghost
              </Choice>
              <Choice isOn={ghosts.reference} onClick={() => setGhosts({ ...ghosts, reference: !ghosts.reference })}>
                Reference ghost
              </Choice>
            </fieldset>
          }
        />
        <span className="sr-only">{character.name}</span>
      </div>
      <PostureSheetPrint
        name={character.name}
        definition={definition}
        report={mesh.isStale ? null : mesh.report}
        armOffsetDeg={fit.state.layers.armOffsetDeg}
      />
    </>
  );
}

/** Where an elbow or knee folds that no pose of the file shows, in metres. */
function assumedHinges(input: ReturnType<typeof useAlignInput>, pose: RigPose) {
  const { rig, normalisation } = input;
  const worlds = computeWorlds(rig, pose);
  return limbHinges(input, pose, filePoses(rig))
    .filter(({ shownBy }) => shownBy === 'assumed')
    .flatMap(({ limb, hinge }) => {
      const world = worlds[input.roleBones.get(`${limb.side}Lower${limb.part}`) ?? -1];
      return world ? [{ at: toBody(normalisation, translationOf(world)), axis: hinge }] : [];
    });
}

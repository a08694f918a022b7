'use client';

import type { ReactNode } from 'react';
import type { Extra } from '@/core/rig/rig';
import { bytesText, centimetresText, momentText } from '@/ui/text';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { useSelection } from '../character/use-selection';

const EXTRA_WORDS: Record<Extra['kind'], string> = {
  camera: 'camera',
  light: 'light',
  empty: 'empty node',
  container: 'container above the bones',
  'rigid-mesh': 'rigid prop on a bone',
  'static-mesh': 'mesh apart from the bones',
  'further-root': 'further skeleton root',
};
const KIND_WORDS = { character: 'skinned character', skeleton: 'skeleton without a mesh', mesh: 'mesh without a skeleton', motion: 'motion without a mesh' };

/** What the file is and what was done to understand it; the odd things first. */
export function IntakeStep() {
  useListening('intake');
  const { character, fit } = useCharacter();
  const { bone, select } = useSelection();
  const { rig, normalisation, match } = character;
  const odd = oddThings(character);
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
      <main className="min-h-0 space-y-5 overflow-auto p-5">
        <section aria-label="Odd things">
          <h2 className="mb-1.5 font-semibold">{odd.length > 0 ? 'Worth a look' : 'Nothing odd'}</h2>
          {odd.length > 0
            ? <ul className="space-y-1">{odd.map((text) => <li key={text} className="border-l-2 border-warning pl-3">{text}</li>)}</ul>
            : <p className="quiet">Unit, axes and facing are as the format says, names are unique, weights add up.</p>}
        </section>
        <div className="grid grid-cols-2 gap-x-8 gap-y-5">
          <Facts title="File">
            <Fact name="Name"><span className="font-mono text-[13px]">{character.fileName}</span></Fact>
            <Fact name="Kind">{KIND_WORDS[rig.kind]}</Fact>
            <Fact name="Format">GLB, glTF 2.0</Fact>
            <Fact name="Size">{bytesText(character.sizeBytes)}</Fact>
            <Fact name="Written by">{rig.source.generator || 'not stated'}</Fact>
            <Fact name="Content"><span className="font-mono text-xs" title={character.sha256}>{character.sha256.slice(0, 16)}…</span></Fact>
            <Fact name="Taken in"><span suppressHydrationWarning>{momentText(character.createdAt)}</span> by {character.createdBy}</Fact>
          </Facts>
          <Facts title="Unit and axes">
            <Fact name="Height">{normalisation.heightMetres.toFixed(2)} m{normalisation.scale !== 1 && <span className="quiet"> ({normalisation.heightFile.toFixed(2)} units in the file)</span>}</Fact>
            <Fact name="Unit">{normalisation.scale === 1 ? 'metres, as the format says' : `1 unit is ${centimetresText(normalisation.scale)}`}</Fact>
            <Fact name="Up">{normalisation.up}{normalisation.up === '+Y' ? ', as the format says' : ', measured on the body'}</Fact>
            <Fact name="Facing">{normalisation.facing}{Math.abs(normalisation.residualYawRad) > 0.01 && <span className="quiet"> and {((normalisation.residualYawRad * 180) / Math.PI).toFixed(1)}° more</span>}</Fact>
            <Fact name="Lowest point">{centimetresText(normalisation.floorMetres)}</Fact>
            <Fact name="Told by">{match.frame.reasons[0] ?? 'nothing'}</Fact>
            <Fact name="Posture">{fit.posture.sentence}</Fact>
          </Facts>
          <Facts title="Skeleton and mesh">
            <Fact name="Bones">{rig.bones.length}, {rig.bones.filter((entry) => entry.skinWeight > 0).length} of them move vertices</Fact>
            <Fact name="Vertices">{rig.mesh.vertexCount.toLocaleString('en')} in {rig.mesh.primitiveCount} {rig.mesh.primitiveCount === 1 ? 'part' : 'parts'}</Fact>
            <Fact name="Triangles">{rig.mesh.triangleCount.toLocaleString('en')}</Fact>
            <Fact name="Influences">at most {rig.mesh.maxInfluences} a vertex</Fact>
            <Fact name="Materials">{rig.mesh.materialCount}, {rig.mesh.textureCount} {rig.mesh.textureCount === 1 ? 'texture' : 'textures'}</Fact>
            <Fact name="Morph targets">{rig.mesh.morphTargetCount || 'none'}</Fact>
          </Facts>
          <section>
            <h2 className="mb-1.5 font-semibold">Clips</h2>
            {rig.clips.length === 0 ? <p className="quiet">The file holds no clips.</p> : (
              <table className="w-full text-[13px]">
                <thead><tr className="quiet text-left"><th className="font-normal">name</th><th className="text-right font-normal">length</th><th className="text-right font-normal">rate</th><th className="text-right font-normal">bones</th></tr></thead>
                <tbody>{rig.clips.map((clip) => <tr key={clip.name}><td className="pr-2">{clip.name}</td><td className="text-right tabular-nums">{clip.durationSeconds.toFixed(2)} s</td><td className="text-right tabular-nums">{clip.framesPerSecond.toFixed(0)}/s</td><td className="text-right tabular-nums">{clip.boneCount}</td></tr>)}</tbody>
              </table>
            )}
            <h2 className="mt-4 mb-1.5 font-semibold">Extras</h2>
            {rig.extras.length === 0 ? <p className="quiet">Nothing but the figure.</p> : (
              <ul className="text-[13px]">{rig.extras.map((extra) => <li key={extra.nodeIndex}><span className="font-mono">{extra.name}</span> <span className="quiet">{EXTRA_WORDS[extra.kind]}{extra.parentBone >= 0 && ` below ${rig.bones[extra.parentBone].name}`}</span></li>)}</ul>
            )}
          </section>
        </div>
        <p className="quiet text-[13px]">The file is kept byte for byte. <a className="link" href={`/api/characters/${character.id}/file`}>Download the original</a></p>
      </main>
      <div className="min-h-0 border-l border-base-300 *:h-full">
        <CharacterStage selected={bone} hovered={null} onPick={(next) => select({ bone: next })} onHover={() => undefined} />
      </div>
    </div>
  );
}

function oddThings({ rig, match, normalisation, fit }: ReturnType<typeof useCharacter>['character']): string[] {
  const odd: string[] = [];
  if (!match.creature.isHumanoid) odd.push(`Not a humanoid: ${match.creature.reasons.join('; ')}.`);
  if (match.frame.namesAreSwapped) odd.push('Left and right names are swapped against what the body shows.');
  if (normalisation.scale !== 1) odd.push(normalisation.notes[0]);
  if (normalisation.up !== '+Y') odd.push(normalisation.notes[1]);
  if (normalisation.facing !== '+Z') odd.push(normalisation.notes[2]);
  odd.push(...rig.remarks);
  if (rig.kind === 'character' && rig.mesh.maxInfluences > 4) odd.push(`Up to ${rig.mesh.maxInfluences} influences a vertex; the stage draws four of them.`);
  const extras = rig.extras.filter((extra) => extra.kind !== 'container');
  if (extras.length > 0) odd.push(`${extras.length} ${extras.length === 1 ? 'thing does' : 'things do'} not belong to the skeleton: ${extras.slice(0, 3).map((extra) => extra.name).join(', ')}.`);
  if (fit.findings.some((finding) => finding.check === 'root-bone')) odd.push('There is no root bone at the floor origin; handoff adds one.');
  return odd;
}

function Facts({ title, children }: { title: string; children: ReactNode }) {
  return <section><h2 className="mb-1.5 font-semibold">{title}</h2><dl className="grid grid-cols-[6.5rem_1fr] gap-y-1">{children}</dl></section>;
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return <><dt className="quiet">{name}</dt><dd className="min-w-0 break-words">{children}</dd></>;
}

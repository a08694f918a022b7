'use client';

import { useMemo, useState } from 'react';
import { bytesText, momentText } from '@/ui/text';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { useSelection } from '../character/use-selection';
import { AxesBlock } from './AxesBlock';
import { ClipsBlock } from './ClipsBlock';
import { CopiesBlock } from './CopiesBlock';
import { ExtrasBlock } from './ExtrasBlock';
import { oddThings } from './odd-things';
import { Block, Fact, Facts } from './parts';
import { PoseBlock } from './PoseBlock';
import { ProvenanceBlock } from './ProvenanceBlock';
import { SizeBlock } from './SizeBlock';
import { SidesBlock } from './SidesBlock';
import { TexturesBlock } from './TexturesBlock';
import { TreeBlock } from './TreeBlock';

const KIND_WORDS = {
  character: 'Skinned character',
  skeleton: 'Skeleton without a skin',
  mesh: 'Mesh without a skeleton',
  motion: 'Motion without a mesh',
};
const FORMAT_WORDS = { glb: 'GLB, glTF', gltf: 'glTF', vrm: 'VRM', fbx: 'FBX', collada: 'COLLADA', bvh: 'BVH' };

/** What the file is, how it is understood, and what a person decides about that; the odd things first. */
export function IntakeStep() {
  useListening('intake');
  const { character, fit, save } = useCharacter();
  const { bone, select } = useSelection();
  const [showsCopies, setShowsCopies] = useState(false);
  const odd = oddThings(character, fit);
  const highlighted = useMemo(() => {
    if (!showsCopies) return undefined;
    const names = new Set(character.sheet.copies.map((copy) => copy.fromName));
    return new Set(character.rig.bones.filter((entry) => names.has(entry.name)).map((entry) => entry.index));
  }, [showsCopies, character]);
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1.9fr)_minmax(0,1fr)]">
      <main className="relative min-h-0 space-y-3 overflow-auto px-5 py-3" aria-busy={save.status === 'saving'}>
        {save.status === 'saving' && (
          <progress
            className="progress absolute inset-x-0 top-0 h-0.5 rounded-none progress-primary"
            aria-label="Reading the file again"
          />
        )}
        <section aria-label="Odd things">
          {odd.length > 0 ? (
            <ul className="columns-2 gap-x-8 text-[13px]">
              {odd.map((text) => (
                <li key={text} className="mb-1 break-inside-avoid border-l-2 border-warning pl-2.5">
                  {text}
                </li>
              ))}
            </ul>
          ) : (
            <p className="quiet text-[13px]">
              Nothing odd: unit, axes and facing are as the file says, names are unique, weights add up.
            </p>
          )}
        </section>
        <div className="grid grid-cols-2 gap-x-8">
          <div className="min-w-0 space-y-3">
            <SizeBlock />
            <AxesBlock />
            <SidesBlock />
            <TreeBlock />
            <CopiesBlock onShow={setShowsCopies} />
            <PoseBlock />
            <ClipsBlock />
          </div>
          <div className="min-w-0 space-y-3">
            <FileBlock />
            <ExtrasBlock />
            <TexturesBlock />
            <ProvenanceBlock />
          </div>
        </div>
      </main>
      <div className="min-h-0 border-l border-base-300 *:h-full">
        <CharacterStage
          selected={bone}
          hovered={null}
          highlighted={highlighted}
          onPick={(next) => select({ bone: next })}
          onHover={() => undefined}
        />
      </div>
    </div>
  );
}

function FileBlock() {
  const { character } = useCharacter();
  const { rig } = character;
  const { source, mesh } = rig;
  const moving = rig.bones.filter((entry) => entry.skinWeight > 0).length;
  return (
    <Block
      title="File"
      aside={
        <a className="link link-hover" href={`/api/characters/${character.id}/file`}>
          The original, byte for byte
        </a>
      }
    >
      <Facts>
        <Fact name="Holds">
          {KIND_WORDS[rig.kind]}, {FORMAT_WORDS[source.format]} {source.version}
        </Fact>
        <Fact name="Size">
          {bytesText(character.sizeBytes)}
          {character.files.length > 1 && (
            <span className="quiet" title={character.files.map((file) => file.path).join('\n')}>
              {' '}
              and {character.files.length - 1} more files
            </span>
          )}
        </Fact>
        <Fact name="Written by">{source.generator || 'Not stated'}</Fact>
        <Fact name="Bones">
          {rig.bones.length}, {moving} of them move vertices
        </Fact>
        <Fact name="Mesh">
          {mesh.vertexCount.toLocaleString('en')} vertices, {mesh.triangleCount.toLocaleString('en')} triangles,{' '}
          {mesh.primitiveCount} {mesh.primitiveCount === 1 ? 'part' : 'parts'}, {mesh.materialCount}{' '}
          {mesh.materialCount === 1 ? 'material' : 'materials'}
        </Fact>
        {mesh.maxInfluences > 0 && <Fact name="Influences">At most {mesh.maxInfluences} per vertex</Fact>}
        {mesh.morphTargetCount > 0 && <Fact name="Morph targets">{mesh.morphTargetCount}</Fact>}
        {source.expressions.length > 0 && (
          <Fact name="Expressions">
            <span title={source.expressions.join(', ')}>
              {source.expressions.length}: {source.expressions.slice(0, 4).join(', ')}
              {source.expressions.length > 4 && ' …'}
            </span>
          </Fact>
        )}
        {Object.keys(source.statedRoles).length > 0 && (
          <Fact name="Humanoid">
            The file names {Object.keys(source.statedRoles).length} roles itself; they count as evidence
          </Fact>
        )}
        <Fact name="Added">
          <span suppressHydrationWarning>{momentText(character.createdAt)}</span> by {character.createdBy}
        </Fact>
      </Facts>
    </Block>
  );
}

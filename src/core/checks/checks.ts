import { checkExtras } from './file/extras';
import { checkFinite } from './file/finite';
import { checkLevels } from './file/levels';
import { checkLicence } from './file/licence';
import { checkMeshSize } from './file/mesh-size';
import { checkMorphs } from './file/morphs';
import { checkProfileFaults } from './file/profile-faults';
import { checkStaticParts } from './file/static-parts';
import { checkUnitAndAxes } from './file/unit-and-axes';
import type { Check } from './finding';
import { checkClipRate } from './motion/clip-rate';
import { checkClipTravel } from './motion/clip-travel';
import { checkDrillFlags } from './motion/drill-flags';
import { checkForeignClips } from './motion/foreign-clips';
import { checkKeyOrder } from './motion/key-order';
import { checkRestKeys } from './motion/rest-keys';
import { checkBoneAxes } from './skeleton/bone-axes';
import { checkBoneCount } from './skeleton/bone-count';
import { checkBoneNames } from './skeleton/bone-names';
import { checkBoneScale } from './skeleton/bone-scale';
import { checkCopiedSkeleton } from './skeleton/copied-skeleton';
import { checkDoubts } from './skeleton/doubts';
import { checkEndBones } from './skeleton/end-bones';
import { checkFarBone } from './skeleton/far-bone';
import { checkFurtherRoots } from './skeleton/further-roots';
import { checkHelperBones } from './skeleton/helper-bones';
import { checkIdleRoles } from './skeleton/idle-roles';
import { checkJointOrder } from './skeleton/joint-order';
import { checkPosesDiffer } from './skeleton/poses-differ';
import { checkProportions } from './skeleton/proportions';
import { checkReferencePose } from './skeleton/reference-pose';
import { checkRequiredRoles } from './skeleton/required-roles';
import { checkRootBone } from './skeleton/root-bone';
import { checkRootTurn } from './skeleton/root-turn';
import { checkSamePlace } from './skeleton/same-place';
import { checkUnevenRolls } from './skeleton/uneven-rolls';
import { checkWritable } from './skeleton/writable';
import { checkShippedSkeleton } from './skeleton/shipped-skeleton';
import { checkTreeOrder } from './skeleton/tree-order';
import { checkZeroLength } from './skeleton/zero-length';
import { checkBinds } from './skin/binds';
import { checkBonesPerDraw } from './skin/bones-per-draw';
import { checkInfluences } from './skin/influences';
import { checkLeastWeight } from './skin/least-weight';
import { checkLooseVertices } from './skin/loose-vertices';
import { checkRootWeights } from './skin/root-weights';
import { checkSkinsApart } from './skin/skins-apart';
import { checkStrayWeights } from './skin/stray-weights';
import { checkTears } from './skin/tears';
import { checkWeightSum } from './skin/weight-sum';
import { checkMaterials } from './surface/materials';
import { checkTextures } from './surface/textures';

/** Every check, in the order in which equally severe findings are shown. */
export const CHECKS: Readonly<Record<string, Check>> = {
  'profile-faults': checkProfileFaults,
  'required-roles': checkRequiredRoles,
  'tree-order': checkTreeOrder,
  'reference-pose': checkReferencePose,
  tears: checkTears,
  'uneven-rolls': checkUnevenRolls,
  'zero-length': checkZeroLength,
  writable: checkWritable,
  'bone-scale': checkBoneScale,
  'bone-count': checkBoneCount,
  'bone-axes': checkBoneAxes,
  'same-place': checkSamePlace,
  'far-bone': checkFarBone,
  'end-bones': checkEndBones,
  doubts: checkDoubts,
  'root-bone': checkRootBone,
  'root-turn': checkRootTurn,
  'helper-bones': checkHelperBones,
  'shipped-skeleton': checkShippedSkeleton,
  'idle-roles': checkIdleRoles,
  'further-roots': checkFurtherRoots,
  'copied-skeleton': checkCopiedSkeleton,
  'joint-order': checkJointOrder,
  'poses-differ': checkPosesDiffer,
  finite: checkFinite,
  binds: checkBinds,
  'loose-vertices': checkLooseVertices,
  'weight-sum': checkWeightSum,
  influences: checkInfluences,
  'bones-per-draw': checkBonesPerDraw,
  'root-weights': checkRootWeights,
  'stray-weights': checkStrayWeights,
  'least-weight': checkLeastWeight,
  'skins-apart': checkSkinsApart,
  'static-parts': checkStaticParts,
  'mesh-size': checkMeshSize,
  morphs: checkMorphs,
  levels: checkLevels,
  'key-order': checkKeyOrder,
  'rest-keys': checkRestKeys,
  'foreign-clips': checkForeignClips,
  'clip-rate': checkClipRate,
  'clip-travel': checkClipTravel,
  textures: checkTextures,
  materials: checkMaterials,
  extras: checkExtras,
  'unit-and-axes': checkUnitAndAxes,
  proportions: checkProportions,
  licence: checkLicence,
  'bone-names': checkBoneNames,
  'drill-flags': checkDrillFlags,
};

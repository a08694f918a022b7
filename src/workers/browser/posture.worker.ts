import { expose } from 'comlink';
import { decodeGeometry, type Geometry } from '@/core/geometry/geometry';
import { decodeMotionTracks, type MotionTracks } from '@/core/clips/motion-tracks';
import type { AlignInput } from '@/core/posture/align-order';
import { measureClearance, selectClearance, type ArmClearance, type ClearanceSubject } from '@/core/posture/clearance';
import { measureSheet, raisedSheet, type PostureSheet } from '@/core/posture/posture-sheet';
import { legDifference, levelSoles, selectFeet, type FootSelections } from '@/core/posture/soles';
import { poseAtMoment } from '@/core/rig/moment';
import type { RigPose } from '@/core/rig/pose';

export interface PostureSubject extends AlignInput {
  /** Addresses of the reading's blocks; null where it has none. */
  readonly geometryUrl: string | null;
  readonly tracksUrl: string | null;
}

/** What is measured of a posture beyond the angles of its roles. */
export interface PostureReport {
  readonly sheet: PostureSheet;
  readonly clearance: readonly ArmClearance[];
  /** How much longer one leg stands than the other; null where they are even or no mesh shows it. */
  readonly legs: { readonly longer: 'left' | 'right'; readonly metres: number } | null;
}

interface Held {
  readonly subject: PostureSubject;
  readonly geometry: Geometry | null;
  readonly feet: FootSelections;
  readonly body: ClearanceSubject | null;
}

let held: Held | null = null;
let tracks: Promise<MotionTracks> | null = null;

async function bytesOf(url: string): Promise<Uint8Array | null> {
  const response = await fetch(url);
  return response.ok ? new Uint8Array(await response.arrayBuffer()) : null;
}

function current(): Held {
  if (!held) throw new Error('posture worker: asked before it was given a figure');
  return held;
}

/** Meshes are fetched, kept and measured here: a person who turns a bone must not wait for them. */
const api = {
  async hold(subject: PostureSubject): Promise<void> {
    const isSameFile =
      held?.subject.geometryUrl === subject.geometryUrl && held?.subject.rig.bones.length === subject.rig.bones.length;
    const bytes = isSameFile || !subject.geometryUrl ? null : await bytesOf(subject.geometryUrl);
    const geometry = isSameFile ? (held?.geometry ?? null) : bytes && decodeGeometry(bytes);
    if (held?.subject.tracksUrl !== subject.tracksUrl) tracks = null;
    held = {
      subject,
      geometry,
      feet: geometry ? selectFeet(subject, geometry) : new Map(),
      body: geometry ? selectClearance(subject, geometry) : null,
    };
  },

  measure(pose: RigPose): PostureReport {
    const { subject, geometry, feet, body } = current();
    // Heights are told from the floor under the figure, wherever the file has its origin.
    const sheet = raisedSheet(
      measureSheet({ ...subject, geometry, feet }, pose),
      -subject.normalisation.floorMetres * 100,
    );
    return {
      sheet,
      clearance: body ? measureClearance(subject, body, pose, sheet.heightM) : [],
      legs: legDifference(subject, feet, pose),
    };
  },

  level(pose: RigPose, bendsLonger: boolean): RigPose | null {
    const { subject, feet } = current();
    const floor = subject.normalisation.floorMetres;
    return feet.size > 0 ? levelSoles(subject, feet, pose, { floor, bendsLonger }) : null;
  },

  /** The pose at a moment of a clip, seconds from its first key; null where the reading has no motion. */
  async moment(clip: number, seconds: number): Promise<RigPose | null> {
    const { subject } = current();
    if (!subject.tracksUrl) return null;
    tracks ??= bytesOf(subject.tracksUrl).then((bytes) => (bytes ? decodeMotionTracks(bytes) : []));
    const found = (await tracks)[clip];
    if (!found) return null;
    return poseAtMoment(subject.rig, found, seconds, subject.roleBones.get('hips') ?? null);
  },
};
export type PostureWorkerApi = typeof api;

expose(api);

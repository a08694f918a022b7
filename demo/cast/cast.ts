import { rewriteFigure } from '../figure/rewrite-figure';
import { truthOf, writeFigure, type Figure, type TruthTable } from '../figure/write-figure';
import { CENTIMETRES_Z_UP, METRES_Y_UP } from '../formats/gather';
import { writeCollada } from '../formats/write-collada';
import { writeFbx } from '../formats/write-fbx';
import { writeVrm } from '../formats/write-vrm';
import { harbourHeron, marketMule } from './animals';
import { bellRinger, LANTERN } from './bell-ringer';
import { clockworkDeckhand } from './clockwork-deckhand';
import { customsClerk } from './customs-clerk';
import { eelSeller } from './eel-seller';
import { ferryPilot } from './ferry-pilot';
import { harbourDiver } from './harbour-diver';
import { harbourMaster } from './harbour-master';
import { lamplighter } from './lamplighter';
import { netMender } from './net-mender';
import { otterStevedore } from './otter-stevedore';
import { stiltWalker } from './stilt-walker';
import { lantern, tideGolem } from './things';
import { MOTIONS } from '../motions/motions';
import { walk } from './walk';

/** One file of the demo. */
export interface CastFile {
  readonly make: () => Promise<Uint8Array>;
  /** Null for what has no bones. */
  readonly truth: TruthTable | null;
  readonly figure: (() => Figure) | null;
  /** What it is where it is no humanoid. */
  readonly creature?: string;
}

const text = (content: string): Uint8Array => new TextEncoder().encode(content);
const figure = (make: () => Figure, write: (figure: Figure) => Promise<Uint8Array> = writeFigure): CastFile => ({
  make: () => write(make()),
  truth: truthOf(make()),
  figure: make,
});

const animal = (make: () => Figure, creature: string): CastFile => ({
  make: () => writeFigure(make()),
  truth: null,
  figure: make,
  creature,
});

/** Who is in the demo, by file name. */
export const CAST: Readonly<Record<string, CastFile>> = {
  'lamplighter.glb': figure(lamplighter),
  'eel-seller.glb': figure(eelSeller),
  'net-mender.glb': figure(netMender),
  'harbour-diver.glb': figure(harbourDiver, (made) => writeFigure(rewriteFigure(made, CENTIMETRES_Z_UP))),
  'ferry-pilot.fbx': figure(ferryPilot, async (made) =>
    text(
      writeFbx(made, {
        ...CENTIMETRES_Z_UP,
        usesPreRotation: true,
        author: 'a freelancer of the lower quay',
        textures: { coat: 'oilcloth.png' },
        meshes: [
          { name: 'Pilot', materials: Object.keys(made.materials).filter((name) => name !== 'coat') },
          { name: 'Coat', materials: ['coat'] },
        ],
      }),
    ),
  ),
  'bell-ringer.dae': figure(bellRinger, async (made) => text(writeCollada(made, { ...METRES_Y_UP, rigid: LANTERN }))),
  'customs-clerk.vrm': figure(customsClerk, writeVrm),
  'otter-stevedore.glb': figure(otterStevedore),
  'clockwork-deckhand.glb': figure(clockworkDeckhand),
  'stilt-walker.glb': figure(stiltWalker),
  'harbour-heron.glb': animal(harbourHeron, 'bird'),
  'market-mule.glb': animal(marketMule, 'four-legged'),
  'quay-walk.bvh': { make: async () => text(walk().text), truth: walk().truth, figure: null },
  ...Object.fromEntries(Object.entries(MOTIONS).map(([name, motion]) => [name, { ...motion, figure: null }])),
  'lantern.glb': { make: lantern, truth: null, figure: null },
  'tide-golem.glb': { make: tideGolem, truth: null, figure: null },
};

/** The lamplighter once more in other formats, to be read as the same rig. Not part of the demo itself. */
export const SAME_FIGURE: Readonly<Record<string, () => Uint8Array>> = {
  'lamplighter.fbx': () => text(writeFbx(lamplighter(), { unitsPerMetre: 100, up: 'Y', usesPreRotation: false })),
  'lamplighter.dae': () => text(writeCollada(lamplighter(), { unitsPerMetre: 39.3700787, up: 'Z' })),
};

/** A figure of exactly 150 bones to measure speed with. Not part of the demo itself. */
export const YARDSTICK: Readonly<Record<string, CastFile>> = {
  'harbour-master.fbx': figure(harbourMaster, async (made) =>
    text(writeFbx(made, { ...CENTIMETRES_Z_UP, usesPreRotation: true })),
  ),
};

import { expect, it } from 'vitest';
import { SkeletonSchema } from '@/core/profile/profile-shape';
import { skeleton } from './skeleton';

async function printed(file: string) {
  let [text, complaint] = ['', ''];
  const code = await skeleton({
    file,
    write: (more) => (text += more),
    complain: (more) => (complaint += more),
  });
  return { code, text, complaint };
}

it('prints the skeleton of a file as a profile holds it, in metres and with its roles', async () => {
  const { code, text } = await printed('demo/files/harbour-diver.glb');
  expect(code).toBe(0);
  const { label, bones } = SkeletonSchema.parse(JSON.parse(text));
  expect(label).toBe('harbour-diver');
  expect(bones).toHaveLength(47);
  const hips = bones.find(({ role }) => role === 'hips');
  expect(hips).toMatchObject({ parent: null });
  // The file counts in centimetres with Z up; what is printed does not.
  expect(hips?.translation[1]).toBeGreaterThan(0.7);
  expect(hips?.translation[1]).toBeLessThan(1.2);
  expect(bones.filter(({ role }) => role !== null).length).toBeGreaterThan(40);
});

it('says why a file has none, and exits with 2', async () => {
  const { code, text, complaint } = await printed('demo/files/lantern.glb');
  expect(code).toBe(2);
  expect(text).toBe('');
  expect(complaint).toMatch(/lantern\.glb/);
});

'use client';

import { useCharacter } from '../character/character-context';
import { Block, Heads } from './parts';

/** Clips of the file, each kept or left out. */
export function ClipsBlock() {
  const { character, fit, decide } = useCharacter();
  const { clips } = character.sheet;
  const { clipsLeftOut } = fit.state.intake;
  const toggle = (index: number) =>
    decide({
      clipsLeftOut: clipsLeftOut.includes(index)
        ? clipsLeftOut.filter((other) => other !== index)
        : [...clipsLeftOut, index],
    });
  return (
    <Block title="Clips" aside={clips.length > 0 && `${clips.length - clipsLeftOut.length} of ${clips.length} kept`}>
      {clips.length === 0 ? (
        <p className="quiet text-[13px]">The file holds no clips.</p>
      ) : (
        <div className="max-h-44 overflow-auto">
          <table className="w-full text-[13px]">
            <Heads names={[[''], ['Name'], ['Frames', true], ['Rate', true], ['Length', true], ['Bones', true]]} />
            <tbody>
              {clips.map((clip, index) => (
                <tr key={index} className={clipsLeftOut.includes(index) ? 'line-through opacity-70' : ''}>
                  <td className="w-6">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-xs align-middle"
                      aria-label={`Keep the clip ${clip.name}`}
                      checked={!clipsLeftOut.includes(index)}
                      onChange={() => toggle(index)}
                    />
                  </td>
                  <td
                    className="max-w-40 truncate pr-2"
                    title={clip.startSeconds ? `Starts at ${clip.startSeconds.toFixed(2)} s in the file` : undefined}
                  >
                    {clip.name}
                  </td>
                  <td className="pr-2 text-right tabular-nums">
                    {clip.framesPerSecond > 0
                      ? Math.round(clip.durationSeconds * clip.framesPerSecond) + 1
                      : clip.keyCount}
                  </td>
                  <td className="pr-2 text-right tabular-nums">
                    {clip.framesPerSecond > 0 ? `${Number(clip.framesPerSecond.toFixed(2))}/s` : '–'}
                  </td>
                  <td className="pr-2 text-right tabular-nums">{clip.durationSeconds.toFixed(2)} s</td>
                  <td className="text-right tabular-nums">{clip.boneCount}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Block>
  );
}

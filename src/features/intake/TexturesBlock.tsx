'use client';

import { useDropzone } from 'react-dropzone';
import type { TextureFact } from '@/core/rig/source-facts';
import { bytesText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { Block, Heads } from './parts';

const STATUS: Record<TextureFact['status'], string> = {
  embedded: 'Embedded',
  resolved: 'Found beside it',
  missing: 'Missing',
  supplied: 'Supplied',
};

/** Textures with what became of each reference; missing ones are supplied by dropping them here. */
export function TexturesBlock() {
  const { character, supply } = useCharacter();
  const { textures } = character.rig.source;
  const missing = textures.filter((texture) => texture.status === 'missing').length;
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => supply(files),
    noClick: true,
    noKeyboard: true,
    disabled: missing === 0,
  });
  const { tabIndex: _tabIndex, ...rootProps } = getRootProps();
  return (
    <Block
      title="Textures"
      aside={textures.length > 0 && `${textures.length}, ${missing === 0 ? 'none missing' : `${missing} missing`}`}
    >
      <div {...rootProps} className={isDragActive ? 'rounded-field outline-2 outline-primary outline-dashed' : ''}>
        <input {...getInputProps()} aria-label="Textures to supply" />
        {textures.length === 0 ? (
          <p className="quiet text-[13px]">The materials use no textures.</p>
        ) : (
          <div className="max-h-40 overflow-auto">
            <table className="w-full text-[13px]">
              <Heads names={[['Name'], ['Use'], ['Pixels', true], ['Size', true], ['', true]]} />
              <tbody>
                {textures.map((texture, index) => (
                  <tr key={index}>
                    <td className="max-w-36 truncate pr-2 font-mono text-xs" title={texture.name}>
                      {texture.name.split(/[\\/]/).pop()}
                    </td>
                    <td className="quiet pr-2">{texture.purposes.join(', ') || 'none'}</td>
                    <td className="pr-2 text-right whitespace-nowrap tabular-nums">
                      {texture.width > 0 ? `${texture.width} × ${texture.height}` : '–'}
                    </td>
                    <td className="pr-2 text-right whitespace-nowrap tabular-nums">
                      {texture.bytes > 0 ? bytesText(texture.bytes) : '–'}
                    </td>
                    <td
                      className={`text-right whitespace-nowrap ${texture.status === 'missing' ? 'font-semibold text-warning' : 'quiet'}`}
                    >
                      {STATUS[texture.status]}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        {missing > 0 && (
          <p className="mt-1 text-[13px]">
            Drop the missing {missing === 1 ? 'one' : 'ones'} here, or{' '}
            <button className="link link-primary" onClick={open}>
              pick files
            </button>
            ; they are matched by name.
          </p>
        )}
      </div>
    </Block>
  );
}

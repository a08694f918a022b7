'use client';

import { useState } from 'react';
import { keepWho, readWho } from './who-cookie';

const YEAR_SECONDS = 31_536_000;

/** Who changes are recorded under, and which theme; both kept in this browser. */
export function Who() {
  const [isOpen, setOpen] = useState(false);
  const [name, setName] = useState('');
  const open = () => {
    setName(readWho());
    setOpen(!isOpen);
  };
  const save = (event: React.FormEvent) => {
    event.preventDefault();
    keepWho(name);
    setOpen(false);
  };
  const switchTheme = () => {
    const next = document.documentElement.dataset.theme === 'slate' ? 'chalk' : 'slate';
    document.documentElement.dataset.theme = next;
    document.cookie = `yarvo-theme=${next}; path=/; max-age=${YEAR_SECONDS}; samesite=strict`;
    window.dispatchEvent(new Event('yarvo-theme'));
  };
  return (
    <div className="relative">
      <button className="btn btn-ghost px-2 font-normal btn-sm" aria-expanded={isOpen} onClick={open}>
        You
      </button>
      {isOpen && (
        <form
          onSubmit={save}
          className="absolute right-0 z-30 mt-1 w-64 rounded-box border border-base-300 bg-base-100 p-3 shadow-md"
        >
          <label className="block text-[13px]" htmlFor="who-name">
            Your changes are recorded as
          </label>
          <input
            id="who-name"
            className="input mt-1 w-full input-sm"
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
          />
          <div className="mt-2 flex justify-between">
            <button type="button" className="btn btn-ghost btn-xs" onClick={switchTheme}>
              Light or dark
            </button>
            <button className="btn btn-primary btn-xs">Save</button>
          </div>
        </form>
      )}
    </div>
  );
}

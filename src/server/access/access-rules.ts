import os from 'node:os';
import { z } from 'zod';
import type { AccessRules } from './check-request';

/** A password that is worth asking for. */
const SHORTEST_PASSWORD = 10;

export const AccessEnvironment = z.object({
  YARVO_HOSTS: z.string().default(''),
  YARVO_PASSWORD: z.string().min(SHORTEST_PASSWORD, `has fewer than ${SHORTEST_PASSWORD} characters`).optional(),
});

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

export const isLoopback = (address: string): boolean => /^(localhost|127(\.\d{1,3}){3}|\[?::1\]?)$/i.test(address);

/** What a Host header calls an address. */
const asHostName = (address: string): string =>
  (address.includes(':') ? `[${address.replace(/^\[|\]$/g, '')}]` : address).toLowerCase();

/**
 * The rules for a server that listens on `address`. Listening everywhere, it is served under this machine's own names
 * and addresses.
 * @param hosts further names, by commas: what a proxy in front of it is called.
 */
export function accessRules(address: string, hosts: string, password: string | undefined): AccessRules {
  const isEverywhere = address === '0.0.0.0' || /^\[?::\]?$/.test(address);
  const own = isEverywhere ? [os.hostname(), ...addressesOfThisMachine()] : [address];
  const named = hosts
    .split(',')
    .map((name) => name.trim())
    .filter((name) => name !== '');
  return {
    hostNames: new Set([...LOOPBACK, ...own.map(asHostName), ...named.map(asHostName)]),
    password: password ?? null,
  };
}

const addressesOfThisMachine = (): string[] =>
  Object.values(os.networkInterfaces()).flatMap((list) =>
    (list ?? []).map(({ address }) => address.replace(/%.*$/, '')),
  );

'use client';

import type { ReactNode } from 'react';
import { AXIS_NAMES, unitText, type AxisName } from '@/core/frame/normalise';
import { capitalised, centimetresText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { findRaisedOrigin } from '@/core/frame/origin';
import { roleBonesOf } from '@/core/fit/fit';
import { originText } from './odd-things';
import { Block, Heads } from './parts';

const UNITS: readonly (readonly [number, string])[] = [
  [1, '1 m'],
  [0.01, '1 cm'],
  [0.001, '1 mm'],
  [0.0254, '1 inch'],
  [0.3048, '1 foot'],
];

/** What the header says, what the body shows, and what counts: side by side, the last one open to a person. */
export function AxesBlock() {
  const { character, fit, act, decide } = useCharacter();
  const { rig, normalisation, match } = character;
  const { intake } = fit.state;
  const { source } = rig;
  const origin = findRaisedOrigin(rig, normalisation, roleBonesOf(fit.state));
  const across = AXIS_NAMES.filter((name) => name[1] !== normalisation.up[1]);
  return (
    <Block
      title="Unit and axes"
      aside={`${normalisation.heightMetres.toFixed(2)} m tall, floor at ${centimetresText(normalisation.floorMetres)}`}
    >
      <table className="w-full text-[13px]">
        <Heads names={[[''], ['Header says'], ['Body shows'], ['Used']]} />
        <tbody>
          <Row
            name="Unit"
            header={source.unitMetres === null ? 'Nothing' : unitText(source.unitMetres)}
            measured={intake.unitMetres ? '' : `1 unit = ${unitText(normalisation.scale)}`}
            isOff={source.unitMetres !== null && Math.abs(normalisation.scale / source.unitMetres - 1) > 1e-3}
          >
            <Choice
              label="Unit"
              isSet={intake.unitMetres !== null}
              value={intake.unitMetres === null ? '' : String(intake.unitMetres)}
              options={[
                ['', `As measured (${unitText(normalisation.scale)})`],
                ...UNITS.map(([value, text]) => [String(value), text] as const),
              ]}
              onChange={(value) => decide({ unitMetres: value === '' ? null : Number(value) })}
            />
          </Row>
          <Row
            name="Up"
            header={source.up ?? 'Nothing'}
            measured={axisText(match.frame.up)}
            isOff={source.up !== null && source.up !== normalisation.up}
          >
            <Choice
              label="Up axis"
              isSet={intake.up !== null}
              value={intake.up ?? ''}
              options={[['', `As measured (${normalisation.up})`], ...AXIS_NAMES.map((name) => [name, name] as const)]}
              onChange={(value) => decide({ up: value === '' ? null : (value as AxisName) })}
            />
          </Row>
          <Row name="Facing" header="–" measured={axisText(match.frame.facing)} isOff={false}>
            <Choice
              label="Facing"
              isSet={intake.facing !== null}
              value={intake.facing ?? ''}
              options={[['', `As measured (${normalisation.facing})`], ...across.map((name) => [name, name] as const)]}
              onChange={(value) => decide({ facing: value === '' ? null : (value as AxisName) })}
            />
          </Row>
          <Row name="Origin" header="–" measured={origin ? originText(origin) : 'on the floor'} isOff={false}>
            <Choice
              label="Origin"
              isSet={fit.state.origin === 'floor'}
              value={fit.state.origin}
              options={[
                ['file', 'As the file has it'],
                ['floor', 'On the floor at handoff'],
              ]}
              onChange={(value) => act({ kind: 'set-origin', origin: value === 'floor' ? 'floor' : 'file' })}
            />
          </Row>
          <tr>
            <td className="quiet pr-2">Handedness</td>
            <td className="pr-2">{capitalised(source.handedness)}</td>
            <td className="quiet" colSpan={2}>
              {source.handedness === 'left' ? 'Mirrored to right-handed when read' : 'No change needed'}
            </td>
          </tr>
        </tbody>
      </table>
      <p className="quiet mt-0.5 text-[13px]">
        Front judged by: {match.frame.reasons.slice(0, 2).join(', ') || 'nothing'}.
      </p>
    </Block>
  );
}

function Row({
  name,
  header,
  measured,
  isOff,
  children,
}: {
  name: string;
  header: string;
  measured: string;
  isOff: boolean;
  children: ReactNode;
}) {
  return (
    <tr>
      <td className="quiet pr-2">{name}</td>
      <td className={`pr-2 ${isOff ? 'font-semibold text-warning' : ''}`}>{header}</td>
      <td className="pr-2">{measured}</td>
      <td>{children}</td>
    </tr>
  );
}

function Choice({
  label,
  isSet,
  value,
  options,
  onChange,
}: {
  label: string;
  isSet: boolean;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
}) {
  return (
    <select
      aria-label={label}
      className={`select w-full select-xs ${isSet ? 'border-primary font-semibold' : ''}`}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      {options.map(([option, text]) => (
        <option key={option} value={option}>
          {text}
        </option>
      ))}
    </select>
  );
}

function axisText(direction: readonly number[]): string {
  const at = direction.map(Math.abs).indexOf(Math.max(...direction.map(Math.abs)));
  const across = Math.hypot(...direction.filter((_, axis) => axis !== at));
  const leaning = (Math.atan2(across, Math.abs(direction[at])) * 180) / Math.PI;
  return `${direction[at] < 0 ? '-' : '+'}${'XYZ'[at]}${leaning > 1 ? `, ${leaning.toFixed(0)}° off` : ''}`;
}

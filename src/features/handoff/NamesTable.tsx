import { writtenMorphs } from '@/core/morphs/written-morphs';
import type { HandoffPlan } from '@/core/plan/handoff-plan';
import { countText } from '@/core/text/count';

/** Names of bones and morph targets in the file and as they are written, with what handoff adds. */
export function NamesTable({ plan }: { readonly plan: HandoffPlan }) {
  const { rig, names, helpers, morphs } = plan;
  const added = [
    ...(names.addsRoot ? [{ name: names.rootName, what: 'Added at the floor origin' }] : []),
    ...helpers.map(({ name }) => ({ name, what: 'Added' })),
  ];
  const targets = [...writtenMorphs(morphs.own, morphs.mapped)];
  return (
    <section aria-label="Names before and after" className="flex min-h-0 flex-col border-l border-base-300 bg-base-100">
      <h2 className="px-4 pt-3 pb-1 font-semibold">
        Names, before and after{' '}
        <span className="quiet font-normal">
          {countText(rig.bones.length + added.length, 'bone')}
          {targets.length > 0 && `, ${countText(targets.length, 'morph target')}`}
        </span>
      </h2>
      <div className="min-h-0 flex-1 overflow-auto" tabIndex={0}>
        <table className="w-full font-mono text-[12.5px]">
          <tbody>
            {added.map(({ name, what }) => (
              <tr key={name} className="text-primary">
                <td className="py-0.5 pl-4 font-sans text-[13px]">{what}</td>
                <td>→</td>
                <td className="pr-4">{name}</td>
              </tr>
            ))}
            {rig.bones.map(({ index, name }) => (
              <Renamed key={index} from={name} to={names.names[index]} />
            ))}
            {targets.map(([from, to]) => (
              <Renamed key={`morph ${from}`} from={from} to={to} note="morph target" />
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function Renamed({ from, to, note }: { readonly from: string; readonly to: string; readonly note?: string }) {
  const isSame = from === to;
  return (
    <tr className={isSame ? 'quiet' : ''}>
      <td className="max-w-52 truncate py-0.5 pl-4" title={from}>
        {from}
        {note && <span className="quiet ml-2 font-sans text-[12px]">{note}</span>}
      </td>
      <td className="quiet w-8">{isSame ? '' : '→'}</td>
      <td className="max-w-52 truncate pr-4" title={to}>
        {isSame ? 'unchanged' : to}
      </td>
    </tr>
  );
}

import type { Definition } from '@/core/definition/definition';
import { roleOf } from '@/core/definition/definition';
import type { PostureReport } from '../../workers/browser/posture.worker';
import { MeasureTable } from './MeasureTable';

interface PostureSheetPrintProps {
  readonly name: string;
  readonly definition: Definition;
  /** Null while it is not measured, or no longer holds. */
  readonly report: PostureReport | null;
  readonly armOffsetDeg: { readonly left: number; readonly right: number } | null;
}

/** The posture on paper; on the screen it is not seen. */
export function PostureSheetPrint({ name, definition, report, armOffsetDeg }: PostureSheetPrintProps) {
  return (
    <article className="print-sheet hidden text-[12px] text-black print:block" aria-hidden>
      <h1 className="text-xl font-semibold">Posture of {name}</h1>
      <p>
        Against {definition.label} version {definition.version}, {definition.pose}-pose.
      </p>
      {!report ? (
        <p>The measures were not done when this was printed.</p>
      ) : (
        <>
          <p className="mt-2 font-semibold">{report.sheet.sentence}</p>
          <p>
            Soles and height from the {report.sheet.solesFrom}.
            {armOffsetDeg &&
              ` In motions the arms are held away by ${armOffsetDeg.left} degrees left, ${armOffsetDeg.right} degrees right.`}
          </p>
          <div className="mt-3 max-w-md">
            <MeasureTable sheet={report.sheet} />
          </div>
          <table className="mt-4 w-full">
            <thead>
              <tr className="text-left">
                <th>Role</th>
                <th>Bone</th>
                <th className="text-right">Off by</th>
                <th className="text-right">Allowed</th>
                <th className="text-right">Roll</th>
              </tr>
            </thead>
            <tbody className="tabular-nums">
              {report.sheet.roles.map(({ role, bone, offDeg, allowedDeg, rollDeg }) => (
                <tr key={role} className="break-inside-avoid border-t border-gray-300">
                  <td>{roleOf(definition, role).label}</td>
                  <td className="font-mono">{bone}</td>
                  <td className="text-right">{offDeg.toFixed(1)}°</td>
                  <td className="text-right">{allowedDeg === null ? '–' : `${allowedDeg.toFixed(1)}°`}</td>
                  <td className="text-right">{rollDeg === null ? '–' : `${rollDeg.toFixed(1)}°`}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </article>
  );
}

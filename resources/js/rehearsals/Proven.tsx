import type { RehearsalReport } from '../api/rehearsals';
import { StateMark } from '../parts/StateMark';
import { SCREENS } from '../parts/vocabulary';

/** The parts of a rehearsal with the time that each took, and everything that was proven to work. */
export function Proven({ report }: { report: RehearsalReport }) {
    return (
        <section aria-label="What was proven" className="space-y-4">
            <div>
                <h3 className="mb-2 font-semibold">What was proven</h3>
                <ul className="border border-line bg-leaf">
                    {report.proofs.map((one, i) => (
                        <li key={i} className="flex gap-3 border-b border-line px-3 py-1 last:border-0">
                            <span className="pt-0.5">
                                <StateMark state="holds" size={13} />
                            </span>
                            <p className="min-w-0 break-words">
                                {one.words}{' '}
                                <span className="text-sm text-soft">
                                    {[one.variant, one.screen && SCREENS[one.screen]].filter(Boolean).join(' · ')}
                                </span>
                            </p>
                        </li>
                    ))}
                    {report.proofs.length === 0 && <li className="px-3 py-1 text-soft">Nothing yet.</li>}
                </ul>
            </div>
            <div>
                <h3 className="mb-2 font-semibold">Where the time went</h3>
                <table className="w-full border border-line bg-leaf text-sm">
                    <tbody>
                        {report.parts.map((part, i) => (
                            <tr key={i} className="border-b border-line last:border-0">
                                <td className="px-3 py-1">{part.words}</td>
                                <td className="px-3 py-1 text-right whitespace-nowrap text-soft">
                                    {part.state === 'done' ? `${part.seconds?.toFixed(1)} s` : part.state === 'running' ? 'now' : ''}
                                </td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </div>
        </section>
    );
}

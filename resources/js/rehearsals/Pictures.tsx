import { useState } from 'react';
import type { Experiment } from '../api/client';
import type { RehearsalReport } from '../api/rehearsals';
import { address } from '../app/address';
import { SCREENS } from '../parts/vocabulary';
import { Enlarged } from './Enlarged';

/** Every variant on every screen, and what is different from the control; each opens large. */
export function Pictures({ site, experiment, report }: { site: string; experiment: Experiment; report: RehearsalReport }) {
    const [open, setOpen] = useState<string | null>(null);
    const has = (name: string): boolean => report.files.some((file) => file.name === name);
    const rows = experiment.variants
        .filter(({ key }) => report.variants.includes(key))
        .flatMap(({ key, name }) => [
            { key: `look-${key}`, label: name, ending: 'png' },
            { key: `difference-${key}`, label: `${name}: differences outlined`, ending: 'png' },
            { key: `flicker-${key}`, label: `${name}: painted before the change`, ending: 'jpg' },
        ])
        .filter((row) => report.screens.some((screen) => has(`${row.key}-${screen}.${row.ending}`)));
    if (rows.length === 0) {
        return null;
    }

    return (
        <section aria-label="Pictures">
            <h3 className="mb-2 font-semibold">What it looked like</h3>
            <div className="overflow-x-auto border border-line bg-leaf">
                <table className="w-full">
                    <thead className="text-left text-sm text-soft">
                        <tr>
                            <th className="px-3 py-1 font-normal">Variant</th>
                            {report.screens.map((screen) => (
                                <th key={screen} className="px-3 py-1 font-normal whitespace-nowrap">
                                    {SCREENS[screen]}
                                </th>
                            ))}
                        </tr>
                    </thead>
                    <tbody>
                        {rows.map((row) => (
                            <tr key={row.key} className="border-t border-line align-top">
                                <th scope="row" className="w-40 px-3 py-2 text-left text-sm font-normal">
                                    {row.label}
                                </th>
                                {report.screens.map((screen) => {
                                    const name = `${row.key}-${screen}.${row.ending}`;

                                    return (
                                        <td key={screen} className="px-3 py-2">
                                            {has(name) && (
                                                <button
                                                    type="button"
                                                    aria-label={`Open ${row.label}, ${SCREENS[screen]}`}
                                                    onClick={() => setOpen(name)}
                                                >
                                                    <img
                                                        loading="lazy"
                                                        src={address.rehearsalFile(site, report.rehearsal, name)}
                                                        alt=""
                                                        className="h-36 w-auto border border-line object-contain"
                                                    />
                                                </button>
                                            )}
                                        </td>
                                    );
                                })}
                            </tr>
                        ))}
                    </tbody>
                </table>
            </div>
            <Enlarged site={site} report={report} name={open} onClose={() => setOpen(null)} />
        </section>
    );
}

import type { RehearsalReport } from '../api/rehearsals';
import { address } from '../app/address';

const KINDS = [
    { ending: '.png', label: 'picture' },
    { ending: '.html', label: 'document' },
    { ending: '.console.json', label: 'console' },
    { ending: '.har', label: 'requests (HAR)' },
];

/** What was kept of the pages on which something was found: each as a picture, its document, its console and its requests. */
export function Evidence({ site, report }: { site: string; report: RehearsalReport }) {
    const names = report.files.map(({ name }) => name).filter((name) => name.startsWith('found-'));
    const stems = [
        ...new Set(
            names.map((name) => KINDS.reduce((stem, { ending }) => (stem.endsWith(ending) ? stem.slice(0, -ending.length) : stem), name)),
        ),
    ];

    return stems.length === 0 ? null : (
        <section aria-label="Evidence">
            <h3 className="mb-2 font-semibold">What was kept of it</h3>
            <ul className="border border-line bg-leaf">
                {stems.map((stem) => (
                    <li key={stem} className="flex flex-wrap gap-x-5 border-b border-line px-3 py-1 last:border-0">
                        <span className="font-mono text-sm">{stem.slice('found-'.length)}</span>
                        {KINDS.filter(({ ending }) => names.includes(stem + ending)).map(({ ending, label }) => (
                            <a
                                key={ending}
                                className="text-accent underline underline-offset-4"
                                href={address.rehearsalFile(site, report.rehearsal, stem + ending)}
                            >
                                {label}
                            </a>
                        ))}
                    </li>
                ))}
            </ul>
        </section>
    );
}

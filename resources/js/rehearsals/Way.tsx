import { useState } from 'react';
import type { Experiment } from '../api/client';
import type { RehearsalReport } from '../api/rehearsals';
import { address } from '../app/address';
import { Enlarged } from './Enlarged';

interface Pictured {
    step: number;
    page: string;
    picture: string;
}

/** The pages that the steps of the script led to, in each variant; each opens large. */
export function Way({ site, experiment, report }: { site: string; experiment: Experiment; report: RehearsalReport }) {
    const [open, setOpen] = useState<string | null>(null);
    const kept = new Set(report.files.map(({ name }) => name));
    const ways = report.parts
        .filter(({ kind }) => kind === 'walk')
        .map(({ variant, figures }) => ({
            variant,
            name: experiment.variants.find(({ key }) => key === variant)?.name ?? variant,
            pages: ((figures.pages ?? []) as Pictured[]).filter(({ picture }) => kept.has(picture)),
        }))
        .filter(({ pages }) => pages.length > 0);
    if (ways.length === 0) {
        return null;
    }

    return (
        <section aria-label="Way">
            <h3 className="mb-2 font-semibold">Where the steps led</h3>
            <div className="space-y-3 border border-line bg-leaf p-3">
                {ways.map(({ variant, name, pages }) => (
                    <div key={variant}>
                        <h4 className="text-sm text-soft">{name}</h4>
                        <ol className="flex flex-wrap gap-3">
                            {pages.map(({ step, page, picture }) => (
                                <li key={picture} className="w-52">
                                    <button type="button" className="block text-left" onClick={() => setOpen(picture)}>
                                        <img
                                            loading="lazy"
                                            src={address.rehearsalFile(site, report.rehearsal, picture)}
                                            alt=""
                                            className="h-32 w-full border border-line object-cover object-top"
                                        />
                                        <span className="sr-only">
                                            Open the page after step {step} in {name}:{' '}
                                        </span>
                                        <span className="block truncate text-sm">
                                            {step}. {page}
                                        </span>
                                    </button>
                                </li>
                            ))}
                        </ol>
                    </div>
                ))}
            </div>
            <Enlarged site={site} report={report} name={open} onClose={() => setOpen(null)} />
        </section>
    );
}

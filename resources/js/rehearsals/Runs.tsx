import { Link } from 'react-router';
import type { Rehearsal } from '../api/rehearsals';
import { address } from '../app/address';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';

/** Earlier rehearsals: each can be opened, or held against the one that is open. */
export function Runs({ site, experiment, all, chosen }: { site: string; experiment?: string; all: Rehearsal[]; chosen: number | null }) {
    if (all.length === 0) {
        return null;
    }

    return (
        <section aria-label="Rehearsals">
            <h3 className="mb-2 font-semibold">Rehearsals</h3>
            <ol className="border border-line bg-leaf">
                {all.map((one) => (
                    <li key={one.rehearsal} className="flex items-start gap-2 border-b border-line px-3 py-1.5 last:border-0">
                        <span className="pt-0.5">
                            <StateMark state={one.verdict} size={14} />
                        </span>
                        <div className="min-w-0 flex-1">
                            <Link
                                to={
                                    experiment
                                        ? address.rehearsal(site, experiment, one.rehearsal)
                                        : address.installation(site, one.rehearsal)
                                }
                                aria-current={one.rehearsal === chosen ? 'page' : undefined}
                                className="text-accent underline underline-offset-4 aria-[current]:font-semibold aria-[current]:text-ink aria-[current]:no-underline"
                            >
                                <Moment at={one.started ?? one.asked} />
                            </Link>
                            <p className="text-sm text-soft">
                                {one.words} {one.by}
                            </p>
                        </div>
                        {experiment && chosen !== null && one.rehearsal < chosen && (
                            <Link
                                className="text-sm text-accent underline underline-offset-4"
                                to={`${address.rehearsal(site, experiment, chosen)}&against=${one.rehearsal}`}
                            >
                                Compare
                            </Link>
                        )}
                    </li>
                ))}
            </ol>
        </section>
    );
}

import { useNavigate } from 'react-router';
import type { Experiment, Site } from '../api/client';
import { useDuplicate, useRevisions } from '../api/life';
import { useRight } from '../api/queries';
import { address } from '../app/address';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Waiting } from '../parts/Waiting';
import { Entries } from './Entries';

/** An experiment's own part of the Logbook, and its revisions, each of which can become a new draft. */
export function ExperimentLogbook({ site, experiment }: { site: Site; experiment: Experiment }) {
    const revisions = useRevisions(site.key, experiment.key);
    const copy = useDuplicate(site.key, experiment.key);
    const navigate = useNavigate();
    const right = useRight(site.key);

    return (
        <div className="mx-auto grid max-w-7xl gap-x-8 gap-y-6 px-5 py-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,3fr)]">
            <section aria-label="Entries">
                <h2 className="mb-2 font-semibold">What was changed</h2>
                <Entries filters={{ thing: 'experiment', key: experiment.key }} alone />
            </section>
            <section aria-label="Revisions">
                <h2 className="mb-2 font-semibold">Revisions</h2>
                <Waiting query={revisions}>
                    {(all) => (
                        <ol className="border border-line bg-leaf">
                            {all.map((one) => (
                                <li key={one.number} className="border-b border-line px-3 py-1.5 last:border-0">
                                    <p>
                                        <strong>{one.number}</strong> {one.stage}{' '}
                                        <span className="text-sm text-soft">
                                            <Moment at={one.from} /> · {one.author}
                                        </span>
                                    </p>
                                    <div className="flex items-start justify-between gap-2">
                                        <p className="text-sm text-soft">{one.changed.join(', ') || 'as it was made'}</p>
                                        {right !== 'look' && (
                                            <Button
                                                aria-label={`New draft from revision ${one.number}`}
                                                className="text-sm"
                                                disabled={copy.isPending}
                                                onClick={() =>
                                                    copy.mutate(one.number, {
                                                        onSuccess: (made) => navigate(address.experiment(site.key, made.key)),
                                                    })
                                                }
                                            >
                                                New draft
                                            </Button>
                                        )}
                                    </div>
                                </li>
                            ))}
                        </ol>
                    )}
                </Waiting>
                {copy.error && (
                    <p role="alert" className="mt-2 text-broken">
                        {copy.error.message}
                    </p>
                )}
            </section>
        </div>
    );
}

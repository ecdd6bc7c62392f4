import { Link } from 'react-router';
import type { Experiment } from '../../api/client';
import { useServe } from '../../api/life';
import { useRight } from '../../api/queries';
import { address, useSiteKey } from '../../app/address';
import { Button } from '../../parts/Button';
import { count } from '../../parts/figures';
import { Moment } from '../../parts/Moment';

/** One for each variant that changed something: the site may be to show it. */
function Brief({ site, experiment }: { site: string; experiment: Experiment }) {
    const changed = experiment.variants.filter(({ changes, target }) => changes.length > 0 || target);

    return (
        <p className="mt-1 text-sm">
            Brief for the developers:{' '}
            {changed.map(({ key, name }) => (
                <Link key={key} to={address.briefs(site, experiment.key, key)} className="mr-3 text-accent underline underline-offset-4">
                    {name}
                </Link>
            ))}
        </p>
    );
}

/** What is to be known of where an experiment stands: its times, why it was started over blockers, what is served since its end. */
export function Standing({ experiment }: { experiment: Experiment }) {
    const site = useSiteKey();
    const right = useRight(site);
    const serve = useServe(site, experiment.key);
    const kept = experiment.kept;
    const isOver = experiment.state === 'ended' || experiment.state === 'archived';

    return (
        <>
            {experiment.state === 'scheduled' && (
                <p className="mt-1" data-standing="scheduled">
                    It starts by itself <Moment at={experiment.start_at} />.
                </p>
            )}
            {!isOver && (experiment.end_at || experiment.end_visitors) && (
                <p className="text-sm" data-standing="end">
                    It ends by itself
                    {experiment.end_at && (
                        <>
                            {' '}
                            <Moment at={experiment.end_at} />
                        </>
                    )}
                    {experiment.end_at && experiment.end_visitors && ', or'}
                    {experiment.end_visitors && ` with ${count(experiment.end_visitors)} visitors`}.
                </p>
            )}
            {experiment.held_up && (
                <p className="mt-1 border-l-3 border-doubt pl-2" data-standing="held-up">
                    It could not start at its time. {experiment.held_up}
                </p>
            )}
            {experiment.started_over && !isOver && experiment.state !== 'draft' && (
                <p className="mt-1 border-l-3 border-broken pl-2" data-standing="over">
                    Started by {experiment.started_over.by} although: {experiment.started_over.blockers.join(' ')} Reason given: “
                    {experiment.started_over.reason}”
                </p>
            )}
            {isOver && kept === null && experiment.state === 'ended' && right !== 'look' && <Brief site={site} experiment={experiment} />}
            {kept && (
                <p className={`mt-1 border-l-3 pl-2 ${kept.overdue ? 'border-broken' : 'border-doubt'}`} data-standing="kept">
                    Everybody is served “{experiment.variants.find(({ key }) => key === kept.variant)?.name ?? kept.variant}” since{' '}
                    <Moment at={kept.since} />. It counts nothing.{' '}
                    {kept.taken > 0 && `${kept.taken} of ${kept.pages} pages show it themselves by now. `}
                    {kept.overdue && <strong>Code in the site should stand for it by now.</strong>}{' '}
                    {(right === 'publish' || right === 'own') && (
                        <Button disabled={serve.isPending} onClick={() => serve.mutate(null)}>
                            Stop serving it
                        </Button>
                    )}
                    {right !== 'look' && (
                        <Link
                            to={address.briefs(site, experiment.key, kept.variant)}
                            className="ml-2 text-accent underline underline-offset-4"
                        >
                            Brief for the developers
                        </Link>
                    )}
                    {serve.error && <span role="alert"> {serve.error.message}</span>}
                </p>
            )}
        </>
    );
}

import { useState } from 'react';
import { Link } from 'react-router';
import type { Experiment, Site } from '../../api/client';
import { useRight } from '../../api/queries';
import type { ReadReadout } from '../../api/readout';
import { address } from '../../app/address';
import { Button } from '../../parts/Button';
import { Moment } from '../../parts/Moment';
import { DecideQuestion } from './DecideQuestion';
import { nameOf } from './GoalResults';

interface Props {
    site: Site;
    experiment: Experiment;
    known: ReadReadout;
    shows: boolean;
}

/** What is proposed, what was decided, and with what was known at the time. */
export function Decisions({ site, experiment, known, shows }: Props) {
    const right = useRight(site.key);
    const [asking, setAsking] = useState(false);
    const mayDecide = (right === 'publish' || right === 'own') && experiment.state !== 'archived';
    const made = known.decisions.filter(({ state }) => state === 'made');
    const proposal = made.length === 0 ? (known.decisions.find(({ state }) => state === 'proposed') ?? known.proposal) : null;

    return (
        <section aria-label="Decision" className="mt-6">
            <div className="flex flex-wrap items-baseline gap-4">
                <h2 className="text-lg font-semibold">Decision</h2>
                <Link to={address.learned(site.key)} className="text-sm text-accent underline underline-offset-4">
                    What we have learned so far
                </Link>
            </div>
            {proposal && (
                <p className="mt-1 border-l-3 border-accent pl-2" data-figure="proposal">
                    Proposed: keep “{nameOf(experiment, proposal.choice)}”. {proposal.because}
                </p>
            )}
            {made.map((one) => (
                <div key={one.id} className="mt-2 border border-line bg-leaf px-4 py-2" data-decision={one.choice}>
                    <p>
                        <strong>“{nameOf(experiment, one.choice)}” is kept.</strong> {one.because}
                    </p>
                    {one.learned && <p>Learned: {one.learned}</p>}
                    <p className="text-sm text-soft">
                        By {one.by} <Moment at={one.at} />. Known then: {one.known ?? 'nothing'}
                        {one.reason && ` The cover had been lifted: “${one.reason}”`}
                    </p>
                </div>
            ))}
            {!proposal && made.length === 0 && (
                <p className="mt-1 text-soft">
                    {shows
                        ? 'Nothing has been decided yet.'
                        : 'Nothing has been decided, and nothing is proposed by figures that are covered.'}
                </p>
            )}
            {mayDecide && (
                <Button look={proposal ? 'main' : 'plain'} className="mt-2" onClick={() => setAsking(true)}>
                    {made.length > 0 ? 'Decide anew…' : 'Decide…'}
                </Button>
            )}
            {asking && <DecideQuestion site={site} experiment={experiment} proposal={proposal} onClose={() => setAsking(false)} />}
        </section>
    );
}

import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { LinkState, Schemas } from '../api/client';
import { useGoals } from '../api/measures';
import { address, useSiteKey } from '../app/address';
import { useKeys } from '../app/keys';
import { ButtonLink } from '../parts/Button';
import { plural } from '../parts/figures';
import { Counting } from '../parts/Counting';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Waiting } from '../parts/Waiting';
import { countInWords, goalInWords } from './goalWords';
import { MeasuresTabs } from './MeasuresTabs';

type Kept = Schemas['KeptGoal'];

/** Every goal of the site: what is declared beside whether it fires. */
export function Goals() {
    const site = useSiteKey();
    const goals = useGoals(site);

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <MeasuresTabs />
            <div className="mb-3 flex flex-wrap items-center gap-4">
                <h1 className="text-xl font-semibold">Goals</h1>
                <p className="text-soft">A goal belongs to the site; experiments use it.</p>
                <ButtonLink look="main" className="ml-auto" to={address.goals(site, 'new')}>
                    Define a goal
                </ButtonLink>
            </div>
            <Waiting query={goals}>{(known) => (known.length === 0 ? <Nothing /> : <Rows goals={known} />)}</Waiting>
        </div>
    );
}

function Nothing() {
    return (
        <p className="border-y border-line bg-leaf p-8 text-center">
            No goal is defined. Say what counts: a page that is reached, a click, a form, an order. Before it counts you see how often it
            would have.
        </p>
    );
}

function Rows({ goals }: { goals: Kept[] }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const [at, setAt] = useState(-1);
    useKeys({
        j: () => setAt(Math.min(goals.length - 1, at + 1)),
        k: () => setAt(Math.max(0, at - 1)),
        Enter: () => goals[at] && navigate(address.goals(site, goals[at].goal.key)),
    });

    return (
        <>
            <div className="leaves text-sm text-soft max-md:hidden" aria-hidden="true">
                <h2 className="py-2 pl-4">Declared</h2>
                <span />
                <h2 className="py-2 pl-4">Observed in seven days</h2>
            </div>
            {goals.map((kept, i) => (
                <Row key={kept.goal.key} kept={kept} marked={i === at} />
            ))}
        </>
    );
}

function Row({ kept, marked }: { kept: Kept; marked: boolean }) {
    const site = useSiteKey();
    const { goal, recent, experiments } = kept;
    const state: LinkState = recent.hits > 0 ? 'holds' : 'unseen';
    const leaf = `border border-line bg-leaf px-4 py-2 max-md:col-start-2 ${marked ? 'outline-2 -outline-offset-2 outline-accent' : ''}`;

    return (
        <section className="leaves mb-2" aria-label={goal.name} data-goal={goal.key}>
            <div className={leaf}>
                <h3 className="font-semibold">
                    <Link to={address.goals(site, goal.key)} className="text-accent underline-offset-4 hover:underline">
                        {goal.name}
                    </Link>{' '}
                    <span className="font-mono text-sm font-normal text-soft">{goal.key}</span>
                </h3>
                <p className="text-sm break-words">{goalInWords(goal)}</p>
                <p className="text-sm text-soft">
                    {countInWords(goal)}
                    {goal.value?.fixed !== undefined && `, worth ${goal.value.fixed}`}
                    {goal.value?.prop && `, worth its ${goal.value.prop}`}
                    {goal.kind === 'order' && ', worth its value'}
                    {goal.currency && ` ${goal.currency}`}
                    {kept.revision > 1 && `; revision ${kept.revision}`}
                </p>
            </div>
            <div className="relative flex items-center justify-center max-md:hidden">
                <span aria-hidden="true" className="absolute top-1/2 h-px w-full bg-line" />
                <span className="relative bg-ground px-1.5">
                    <StateMark state={state} size={22} />
                </span>
            </div>
            <div className={leaf}>
                <p>
                    {recent.hits > 0 ? (
                        <>
                            {plural(recent.hits, 'hit')} by {plural(recent.visitors, 'visitor')}, last <Moment at={recent.last} seconds />
                        </>
                    ) : (
                        'It has not been reached.'
                    )}
                </p>
                <Counting counted={kept.counting} className="text-sm" />
                <p className="text-sm text-soft">
                    {experiments.length === 0 ? 'No experiment uses it.' : 'Used by '}
                    {experiments.map((one, i) => (
                        <span key={one.key}>
                            {i > 0 && ', '}
                            <Link
                                to={address.experiment(site, one.key, 'goals')}
                                className="text-accent underline-offset-4 hover:underline"
                            >
                                {one.name}
                            </Link>{' '}
                            ({one.state})
                        </span>
                    ))}
                </p>
            </div>
        </section>
    );
}

import { useState } from 'react';
import type { Experiment, Site } from '../../api/client';
import { useBasis, useFollowed, useKeepPlan, usePlan, type PlanBasis, type PlanFollowed } from '../../api/plans';
import { useRight } from '../../api/queries';
import { Button } from '../../parts/Button';
import { fieldErrors } from '../../parts/fieldErrors';
import { Moment } from '../../parts/Moment';
import { useDebounced } from '../../parts/useDebounced';
import { Waiting } from '../../parts/Waiting';
import { CertaintyRow } from './rows/CertaintyRow';
import { ComparedRow } from './rows/ComparedRow';
import type { PlanSides } from './rows/PlanSides';
import { RunRow } from './rows/RunRow';
import { VisitorsRow } from './rows/VisitorsRow';
import { WantedRow } from './rows/WantedRow';
import { PlanRead } from './PlanRead';
import { emptyPlan, formOf, measured, requestOf } from './planForm';
import { Followed } from './Followed';

/** The plan of an experiment: made on two leaves before it starts, and read after that. */
export function PlanPage({ site, experiment }: { site: Site; experiment: Experiment }) {
    const kept = usePlan(site.key, experiment.key);
    const right = useRight(site.key);
    const hasStarted = experiment.started_at !== null;
    const isOver = experiment.state === 'ended' || experiment.state === 'archived';

    return (
        <Waiting query={kept}>
            {(plan) =>
                right === 'look' || (hasStarted && plan !== null) || isOver ? (
                    <PlanRead plan={plan} experiment={experiment} />
                ) : (
                    <Making key={plan?.plan.made_at ?? 'new'} site={site} experiment={experiment} kept={plan} hasStarted={hasStarted} />
                )
            }
        </Waiting>
    );
}

interface Props {
    site: Site;
    experiment: Experiment;
    kept: PlanFollowed | null;
    hasStarted: boolean;
}

function Making({ site, experiment, kept, hasStarted }: Props) {
    const [typed, setTyped] = useState(() => (kept ? formOf(kept.plan, experiment) : emptyPlan(experiment)));
    const [ownFigures, setOwnFigures] = useState(kept !== null);
    const basis = useBasis(site.key, experiment.key, experiment.revision, true);
    const known: PlanBasis | null = basis.result;
    const found = measured(typed, known);
    // What nobody has typed follows what was measured.
    const form = ownFigures ? typed : { ...typed, baseline: found?.baseline ?? '', sd: found?.sd ?? '' };
    const request = requestOf(form, experiment, known);
    const settled = useDebounced(request, 300);
    const followed = useFollowed(site.key, settled);
    const keep = useKeepPlan(site.key, experiment.key);
    const errors = { ...fieldErrors(followed.error), ...fieldErrors(keep.error) };
    const set: PlanSides['set'] = (change) => {
        keep.reset();
        setTyped({ ...form, ...change });
        setOwnFigures((own) => (change.measure || change.goal ? false : own || 'baseline' in change || 'sd' in change));
    };
    const sides: PlanSides = {
        form,
        set,
        errors,
        experiment,
        basis,
        found,
        follow: () => setOwnFigures(false),
        followed: request === null ? null : (followed.data ?? null),
    };
    const isCurrent = JSON.stringify(settled) === JSON.stringify(request) && !followed.isFetching;

    return (
        <div className="is-edited mx-auto max-w-7xl px-5 pb-6">
            <div className="leaves text-sm text-soft max-md:hidden" aria-hidden="true">
                <h2 className="py-2 pl-4">Planned</h2>
                <span />
                <h2 className="py-2 pl-4">Measured, and what follows</h2>
            </div>
            <section aria-label="Plan">
                <ComparedRow {...sides} />
                <WantedRow {...sides} />
                <VisitorsRow {...sides} />
                <RunRow {...sides} />
                <CertaintyRow {...sides} />
            </section>
            <Followed
                followed={sides.followed}
                error={followed.error && Object.keys(errors).length === 0 ? followed.error.message : null}
            />
            <div className="sticky bottom-0 -mx-5 mt-4 flex flex-wrap items-center gap-3 border-t border-line bg-ground px-5 py-3">
                <Button
                    look="main"
                    disabled={request === null || !followed.data || !isCurrent || keep.isPending}
                    onClick={() => request && keep.mutate(request)}
                >
                    {kept ? 'Keep the changed plan' : 'Keep the plan'}
                </Button>
                {kept && (
                    <Button look="danger" disabled={keep.isPending} onClick={() => keep.mutate(null)}>
                        Throw it away
                    </Button>
                )}
                <span className="text-sm text-soft">
                    {kept ? (
                        <>
                            Made by {kept.plan.made_by} <Moment at={kept.plan.made_at ?? null} />.
                        </>
                    ) : hasStarted ? (
                        'The experiment has started already: the plan will say that it was made later, and can be kept once.'
                    ) : (
                        'It stays as it is once the experiment has started, and is what the result is read against.'
                    )}
                </span>
                {keep.error && (
                    <span role="alert" className="text-broken">
                        {keep.error.message}
                    </span>
                )}
            </div>
        </div>
    );
}

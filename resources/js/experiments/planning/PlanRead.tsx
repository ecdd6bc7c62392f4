import type { Experiment } from '../../api/client';
import type { PlanFollowed } from '../../api/plans';
import { Moment } from '../../parts/Moment';
import { Followed } from './Followed';

/** A plan that is kept, to be read. */
export function PlanRead({ plan, experiment }: { plan: PlanFollowed | null; experiment: Experiment }) {
    if (!plan) {
        return <p className="mx-auto max-w-7xl px-5 py-6">No plan was made for this experiment.</p>;
    }
    const later = experiment.started_at && plan.plan.made_at && plan.plan.made_at > experiment.started_at;

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <p className="text-lg font-semibold" data-figure="plan">
                {plan.outcome.words}
            </p>
            <p className="text-sm text-soft">
                Made by {plan.plan.made_by ?? 'somebody'} <Moment at={plan.plan.made_at ?? null} />
                {later ? ', after the experiment had started: it is no promise made beforehand.' : ', before the experiment started.'}
            </p>
            {plan.outcome.warnings.map(({ code, words }) => (
                <p key={code} className="mt-1 border-l-3 border-doubt pl-2">
                    {words}
                </p>
            ))}
            <ul className="mt-2 list-disc pl-5 text-sm">
                {plan.outcome.assumptions.map((one) => (
                    <li key={one}>{one}</li>
                ))}
            </ul>
            <Followed followed={plan} error={null} />
        </div>
    );
}

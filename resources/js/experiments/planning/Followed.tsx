import type { PlanFollowed } from '../../api/plans';
import { count, percent } from '../../parts/figures';
import { EffectCurve } from './EffectCurve';

type Point = PlanFollowed['curve'][number];

/** What can be found in how many weeks: the picture, and the table behind it. */
export function Followed({ followed, error }: { followed: PlanFollowed | null; error: string | null }) {
    if (error) {
        return (
            <p role="alert" className="mt-3 text-broken">
                {error}
            </p>
        );
    }
    if (!followed || followed.curve.length === 0) {
        return null;
    }
    const { outcome, curve, plan } = followed;
    const isRate = outcome.kind === 'proportion';
    const words = ({ points, lift }: Point): string =>
        points === null
            ? '–'
            : `${isRate ? `${Number((100 * points).toPrecision(2))} points` : Number(points.toPrecision(3))}${lift === null ? '' : ` (${percent(lift)})`}`;
    const weeks = plan.days ? Math.ceil(plan.days / 7) : outcome.weeks;

    return (
        <section aria-label="Effect against weeks" className="mt-3 border border-line bg-leaf px-4 py-3">
            <h2 className="font-semibold">
                {plan.margin != null ? 'The smallest margin that can be shown to be kept' : 'The smallest effect that can be found'},
                against the weeks that it runs
            </h2>
            <div className="max-w-4xl">
                <EffectCurve curve={curve} words={words} weeks={weeks ?? null} wanted={plan.margin ?? outcome.points} />
            </div>
            <details>
                <summary className="text-sm text-accent">The same as a table</summary>
                <table className="mt-1 text-right text-sm">
                    <thead className="text-soft">
                        <tr>
                            <th className="pr-6 text-left font-normal">Weeks</th>
                            <th className="pr-6 font-normal">Visitors in all</th>
                            <th className="font-normal">{plan.margin != null ? 'Margin' : 'Effect'}</th>
                        </tr>
                    </thead>
                    <tbody>
                        {curve.map((point) => (
                            <tr key={point.weeks} className={point.weeks === weeks ? 'font-semibold' : ''}>
                                <td className="pr-6 text-left">{point.weeks}</td>
                                <td className="pr-6">{count(point.visitors)}</td>
                                <td>{words(point)}</td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </details>
        </section>
    );
}

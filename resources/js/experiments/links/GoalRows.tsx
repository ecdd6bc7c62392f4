import { Link } from 'react-router';
import { address } from '../../app/address';
import { count, percent, plural } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { countInWords, goalInWords } from '../../measures/goalWords';
import { VariantMark } from '../../parts/VariantMark';
import { Row } from './Row';
import type { Sides } from './Workbench';

/** Each goal with its hits and its rate per variant. */
export function GoalRows({ experiment, observed, site }: Sides) {
    return experiment.goals.map((goal, g) => {
        const seen = observed.goals[g];

        return (
            <Row
                key={goal.key}
                last={g === experiment.goals.length - 1}
                declared={
                    <>
                        <Link to={address.goals(site.key, goal.key)} className="text-accent underline underline-offset-4">
                            {goal.name}
                        </Link>{' '}
                        <span className="text-sm text-soft">({goal.role})</span>
                        <p className="text-sm break-words">
                            {goalInWords(goal)}, {countInWords(goal)}
                        </p>
                    </>
                }
                observed={
                    <>
                        <table className="w-full text-right">
                            <thead className="text-sm text-soft">
                                <tr>
                                    <th className="text-left font-normal">Variant</th>
                                    <th className="font-normal">Hits</th>
                                    <th className="font-normal">Visitors with a hit</th>
                                    <th className="font-normal">of exposed</th>
                                    <th className="font-normal">Rate</th>
                                </tr>
                            </thead>
                            <tbody>
                                {seen.variants.map((variant, i) => (
                                    <tr key={variant.key} data-goal-variant={variant.key}>
                                        <td className="flex items-center text-left">
                                            <VariantMark index={i} />
                                            {experiment.variants[i].name}
                                        </td>
                                        <td data-figure="hits">{count(variant.hits.count)}</td>
                                        <td data-figure="hit-visitors">{count(variant.hits.visitors)}</td>
                                        <td>{count(observed.variants[i].exposures.visitors)}</td>
                                        <td>{percent(variant.rate, 2)}</td>
                                    </tr>
                                ))}
                            </tbody>
                        </table>
                        <p className="mt-1 text-sm text-soft">
                            {seen.epochs.length > 1 &&
                                `Rates of ${seen.epochs.length} epochs joined, each with its part of all visitors: adding them up would mix what the weights did with what the variants did. `}
                            {plural(seen.everyone.count, 'hit')} on the whole site, last <Moment at={seen.everyone.last} />
                        </p>
                    </>
                }
            />
        );
    });
}

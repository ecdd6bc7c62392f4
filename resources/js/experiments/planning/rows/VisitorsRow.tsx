import { Choice } from '../../../parts/Choice';
import { count, percent } from '../../../parts/figures';
import { Row } from '../../links/Row';
import { PlanNumber } from './PlanNumber';
import type { PlanSides } from './PlanSides';

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** How many visitors come. */
export function VisitorsRow({ form, set, errors, experiment, basis }: PlanSides) {
    const known = basis.result;
    const most = Math.max(1, ...(known?.weekdays.map(({ visitors }) => visitors) ?? []));

    return (
        <Row
            declared={
                <div className="flex flex-wrap items-end gap-3 py-1">
                    <div className="w-56">
                        <Choice
                            label="Traffic"
                            value={form.traffic}
                            options={[
                                { value: 'measured', label: 'Visitors as measured' },
                                { value: 'daily', label: 'Another number a day' },
                            ]}
                            onChange={(traffic) => set({ traffic })}
                        />
                    </div>
                    {form.traffic === 'daily' && (
                        <PlanNumber form={form} set={set} name="daily" label="Visitors a day" error={errors.daily} />
                    )}
                    <p className="pb-1.5 text-sm text-soft">
                        {percent(experiment.share, 0)} of them enter, divided as{' '}
                        {experiment.variants.map(({ weight }) => weight).join(' : ')}.
                    </p>
                </div>
            }
            observed={
                <div className="py-1">
                    {known && (
                        <>
                            <p>
                                {known.within.map((visitors, i) => (
                                    <span key={i}>
                                        {i > 0 && ', '}
                                        <strong>{count(visitors)}</strong>
                                    </span>
                                ))}{' '}
                                different visitors within 1, 2, 3 and 4 weeks; each later week is taken to bring as many new ones as the
                                fourth.
                            </p>
                            <table className="mt-1 text-sm">
                                <caption className="sr-only">Visitors by weekday, in four weeks</caption>
                                <thead className="sr-only">
                                    <tr>
                                        {WEEKDAYS.map((day) => (
                                            <th key={day}>{day}</th>
                                        ))}
                                    </tr>
                                </thead>
                                <tbody>
                                    <tr>
                                        {known.weekdays.map((day, i) => (
                                            <td key={i} className="w-14 pr-2 align-bottom">
                                                <span
                                                    aria-hidden="true"
                                                    className="block bg-accent"
                                                    style={{ height: `${Math.round((22 * day.visitors) / most)}px` }}
                                                />
                                                {count(day.visitors)}
                                                <span aria-hidden="true" className="block text-xs text-soft">
                                                    {WEEKDAYS[i]}
                                                </span>
                                            </td>
                                        ))}
                                    </tr>
                                </tbody>
                            </table>
                        </>
                    )}
                </div>
            }
        />
    );
}

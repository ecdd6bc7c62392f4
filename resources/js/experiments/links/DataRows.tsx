import { plural } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Row } from './Row';
import type { Sides } from './Workbench';

/** When events came, and how many were turned away. */
export function DataRows({ observed, experiment }: Sides) {
    const { accepted, rejected, entered, common_reason: reason } = observed;

    return (
        <>
            <Row
                declared={
                    experiment.started_at ? 'Events of this experiment, since it began' : 'Events of the site, in the last seven days'
                }
                observed={
                    <>
                        Last exposure <Moment at={entered.last} seconds />
                        <p className="text-sm text-soft">
                            {plural(accepted, 'event')} of the site accepted, the last page view{' '}
                            <Moment at={observed.site_views.last} seconds />
                        </p>
                    </>
                }
            />
            <Row
                last
                off={rejected.count > accepted * 0.01}
                declared="No event is rejected"
                observed={
                    rejected.count === 0 ? (
                        'None was rejected.'
                    ) : (
                        <>
                            {plural(rejected.count, 'event')} rejected, mostly for <span className="font-mono text-sm">{reason}</span>, last{' '}
                            <Moment at={rejected.last} />
                        </>
                    )
                }
            />
        </>
    );
}

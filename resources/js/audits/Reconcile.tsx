import { Link } from 'react-router';
import type { LinkState } from '../api/client';
import type { ReconciliationResult } from '../api/reconciliations';
import { useReconciliations, type Reconciliation } from '../api/reconciliations';
import { useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Table, type Column } from '../parts/Table';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { held } from '../parts/words';
import { ReconcileForm } from './ReconcileForm';

export const AGREEMENT: Record<ReconciliationResult['verdict'], { state: LinkState; words: string }> = {
    agree: { state: 'holds', words: 'They agree' },
    differ: { state: 'doubt', words: 'They differ' },
    uneven: { state: 'broken', words: 'They differ unevenly' },
};

/** Files of other sources that were held against experiments and logs; another one is brought from here. */
export function Reconcile() {
    const site = useSiteKey();
    const all = useReconciliations(site);
    const mayWork = useRight(site) !== 'look';
    useTitle('Reconcile · Audits');

    return (
        <div className="mx-auto max-w-7xl space-y-4 px-5 py-4">
            <div>
                <p className="text-sm text-soft">
                    <Link to={address.audits(site)} className="text-accent underline underline-offset-4">
                        Audits
                    </Link>
                </p>
                <h1 className="text-xl font-semibold">Reconcile with another source</h1>
                <p className="max-w-3xl text-soft">
                    The site’s own analytics and the order system never have the same figures as Pellix. What matters is whether they differ
                    by little, and if not, whether all variants alike.
                </p>
            </div>
            {mayWork && <ReconcileForm site={site} />}
            <Waiting query={all}>
                {(known) =>
                    known.length === 0 ? (
                        <p className="text-soft">Nothing has been held against another source yet.</p>
                    ) : (
                        <Table label="Reconciled" columns={columns(site)} rows={known} rowKey={(one) => `${one.reconciliation}`} />
                    )
                }
            </Waiting>
        </div>
    );
}

const columns = (site: string): Column<Reconciliation>[] => [
    {
        key: 'verdict',
        head: '',
        centred: true,
        cell: (one) => one.verdict && <StateMark state={AGREEMENT[one.verdict].state} />,
    },
    {
        key: 'name',
        head: 'File',
        className: 'min-w-32 px-3 py-1',
        cell: (one) => (
            <Link to={address.reconcile(site, one.reconciliation)} className="font-semibold text-accent underline-offset-4 hover:underline">
                {one.name}
            </Link>
        ),
        sort: (one) => one.name,
    },
    { key: 'subject', head: 'Against', className: 'min-w-48 px-3 py-1', cell: (one) => one.subject, sort: (one) => one.subject },
    { key: 'sentence', head: 'Result', cell: (one) => said(one), wide: true },
    { key: 'asked', head: 'When', cell: (one) => <Moment at={one.asked} />, sort: (one) => one.asked },
];

export function said({ state, sentence, failure }: Reconciliation): string {
    switch (state) {
        case 'done':
            return held(sentence);
        case 'failed':
            return `It could not be done. ${failure ?? ''}`;
        default:
            return state === 'waiting' ? 'It waits.' : 'Under way.';
    }
}

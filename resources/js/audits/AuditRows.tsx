import { Link, useNavigate } from 'react-router';
import { isUnderWay, type Audit } from '../api/audits';
import { address, useSiteKey } from '../app/address';
import { count } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Table, type Column } from '../parts/Table';
import { held } from '../parts/words';
import { VERDICT_STATE } from './grades';

const WHY: Record<Audit['why'], string> = {
    asked: '',
    daily: 'daily watch',
    published: 'after a publication',
    suspected: 'the split seemed off',
};

/** Audits, one a row: what each says, and what came and went since the one before. */
export function AuditRows({ all }: { all: Audit[] }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const columns: Column<Audit>[] = [
        {
            key: 'mark',
            head: '',
            className: 'py-1.5 pr-1 pl-3 align-top',
            cell: ({ verdict }) => verdict && <StateMark state={VERDICT_STATE[verdict]} />,
        },
        {
            key: 'what',
            head: 'What',
            wide: true,
            sort: ({ name }) => name,
            className: 'min-w-72 px-2 py-1.5 align-top',
            cell: (audit) => (
                <>
                    <Link to={address.audit(site, audit.audit)} className="font-semibold text-accent underline-offset-4 hover:underline">
                        {audit.name}
                    </Link>{' '}
                    <span className="text-sm text-soft">{audit.log === null ? audit.experiment : 'log'}</span>
                    <p className="text-sm">{words(audit)}</p>
                </>
            ),
        },
        {
            key: 'since',
            head: 'Since the last audit',
            className: 'px-3 py-1.5 align-top text-sm whitespace-nowrap',
            cell: ({ since_last }) =>
                since_last && <span className={since_last.new > 0 ? 'font-semibold' : 'text-soft'}>{since_last.words}</span>,
        },
        {
            key: 'when',
            head: 'When',
            sort: ({ asked }) => asked,
            className: 'px-3 py-1.5 align-top text-sm',
            cell: (audit) => (
                <>
                    <Moment at={audit.ended ?? audit.asked} />
                    <span className="block text-soft">{WHY[audit.why] || audit.by}</span>
                </>
            ),
        },
    ];

    return (
        <Table
            label="Audits"
            columns={columns}
            rows={all}
            rowKey={({ audit }) => String(audit)}
            onOpen={({ audit }) => navigate(address.audit(site, audit))}
        />
    );
}

function words(audit: Audit): string {
    if (isUnderWay(audit)) {
        return audit.state === 'waiting'
            ? 'It waits.'
            : `Under way: ${count(audit.done)}${audit.total > 0 ? ` of about ${count(audit.total)}` : ''} events read.`;
    }

    return audit.state === 'done' ? held(audit.sentence) : audit.state === 'cancelled' ? 'It was cancelled.' : audit.doing;
}

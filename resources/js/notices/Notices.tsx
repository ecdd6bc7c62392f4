import { Link } from 'react-router';
import { useNotices, type Notice } from '../api/audits';
import { address, useSiteKey } from '../app/address';
import { Grade } from '../audits/grades';
import { Moment } from '../parts/Moment';
import { noticeAddress } from './noticeAddress';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { held } from '../parts/words';
import { Frame } from './Frame';

const columns = (site: string): Column<Notice>[] => [
    { key: 'grade', head: '', cell: (one) => <Grade severity={one.severity} />, centred: true },
    {
        key: 'name',
        head: 'Experiment',
        cell: (one) =>
            one.experiment ? (
                <Link
                    to={address.experiment(site, one.experiment)}
                    className="font-semibold text-accent underline-offset-4 hover:underline"
                >
                    {one.name}
                </Link>
            ) : (
                one.name
            ),
        sort: (one) => one.name,
    },
    {
        key: 'message',
        head: 'Trouble',
        cell: (one) =>
            noticeAddress(site, one) === null ? (
                held(one.message)
            ) : (
                <Link to={noticeAddress(site, one) ?? ''} className="text-accent underline-offset-4 hover:underline">
                    {held(one.message)}
                </Link>
            ),
        wide: true,
    },
    { key: 'at', head: 'Noticed', cell: (one) => <Moment at={one.at} />, sort: (one) => one.at },
    {
        key: 'over',
        head: 'Over since',
        cell: (one) => (one.over ? <Moment at={one.over} /> : <span className="text-soft">not over</span>),
        sort: (one) => one.over,
    },
];

/** Every trouble that the watch over running experiments has noticed, each once. */
export function Notices() {
    const site = useSiteKey();
    const notices = useNotices(site);

    return (
        <Frame title="Troubles">
            <p className="mb-3 max-w-3xl text-soft">
                Running experiments are audited every day at 05:00 and an hour after every publication. Each trouble is told once; it is
                over when no audit finds it any more.
            </p>
            <Waiting query={notices}>
                {(all) =>
                    all.length === 0 ? (
                        <p>No trouble has been noticed yet.</p>
                    ) : (
                        <Table label="Troubles" columns={columns(site)} rows={all} rowKey={(one) => `${one.notice}`} />
                    )
                }
            </Waiting>
        </Frame>
    );
}

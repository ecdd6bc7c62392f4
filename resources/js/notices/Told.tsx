import type { Delivery } from '../api/notices';
import { isAboutToBeTold, useDeliveries, useTellAgain } from '../api/notices';
import { useRight } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { held } from '../parts/words';
import { Frame } from './Frame';

const KINDS: Record<Delivery['kind'], string> = { trouble: 'Trouble', digest: 'The week', test: 'Test' };

const triesOf = (n: number): string => (n === 1 ? '1 try' : `${n} tries`);

/** What was told to whom, what waits, and what did not get through. */
export function Told() {
    const deliveries = useDeliveries(useSiteKey());

    return (
        <Frame title="What was told">
            <Waiting query={deliveries}>
                {(all) =>
                    all.length === 0 ? (
                        <p>Nothing has been told yet. A new trouble of a running experiment is told as soon as an audit finds it.</p>
                    ) : (
                        <DeliveryTable deliveries={all} />
                    )
                }
            </Waiting>
        </Frame>
    );
}

/** Deliveries, the newest first, with what became of each; of one address, which needs no name in every row. */
export function DeliveryTable({ deliveries, isOfOne = false }: { deliveries: Delivery[]; isOfOne?: boolean }) {
    const site = useSiteKey();
    const again = useTellAgain(site);
    const isOwner = useRight(site) === 'own';
    const columns: Column<Delivery>[] = [
        { key: 'at', head: 'Since', cell: (one) => <Moment at={one.at} seconds />, sort: (one) => one.at },
        { key: 'kind', head: 'What', cell: (one) => KINDS[one.kind], sort: (one) => one.kind },
        {
            key: 'to',
            head: 'To',
            cell: (one) => (
                <span className="whitespace-nowrap">
                    {one.to ?? '–'} <span className="text-sm text-soft">by {one.way}</span>
                </span>
            ),
            sort: (one) => one.to,
        },
        {
            key: 'became',
            head: 'What became of it',
            cell: (one) => (
                <>
                    <Became delivery={one} />
                    {one.message && <p className="text-sm text-soft">{held(one.message)}</p>}
                </>
            ),
            sort: (one) => one.state,
            wide: true,
        },
        {
            key: 'again',
            head: '',
            cell: (one) =>
                isOwner && (one.state === 'given-up' || (one.state === 'waiting' && one.tries > 0 && !isAboutToBeTold(one))) ? (
                    <Button disabled={again.isPending} onClick={() => again.mutate(one.delivery)}>
                        Try again now
                    </Button>
                ) : null,
        },
    ];

    return (
        <>
            {again.error && (
                <p role="alert" className="mb-2 text-broken">
                    {again.error.message}
                </p>
            )}
            <Table
                label="What was told"
                columns={columns.filter(({ key }) => key !== 'to' || !isOfOne)}
                rows={deliveries}
                rowKey={(one) => `${one.delivery}`}
            />
        </>
    );
}

function Became({ delivery: { state, tries, status, said, tried, next } }: { delivery: Delivery }) {
    const answered = status === null ? '' : ` (HTTP ${status})`;
    switch (state) {
        case 'sent':
            return (
                <span className="text-holds">
                    Told <Moment at={tried} seconds />
                    {answered}
                    {tries > 1 && `, at try ${tries}`}
                </span>
            );
        case 'dropped':
            return <span className="text-soft">Not told. {said}</span>;
        case 'given-up':
            return (
                <span className="text-broken">
                    Given up after {triesOf(tries)}: {said}
                </span>
            );
        default:
            return tries === 0 ? (
                <span>
                    Waits until <Moment at={next} />
                </span>
            ) : (
                <span className="text-doubt-ink">
                    {said} {triesOf(tries)} failed; the next is <Moment at={next} seconds />
                </span>
            );
    }
}

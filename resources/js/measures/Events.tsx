import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Problem, type LinkState, type Schemas } from '../api/client';
import { useEvents, useImportPlan } from '../api/measures';
import { useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { count, plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { MeasuresTabs } from './MeasuresTabs';

type Volume = Schemas['EventVolume'];

/** The tracking plan: every event that is planned or was seen. */
export function Events() {
    const site = useSiteKey();
    const events = useEvents(site);
    const mayWork = useRight(site) !== 'look';

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <MeasuresTabs />
            <div className="mb-3 flex flex-wrap items-end gap-x-6 gap-y-2">
                <h1 className="text-xl font-semibold">Tracking plan</h1>
                <a href={address.planFile(site, 'json')} className="text-accent underline underline-offset-4" download>
                    As JSON
                </a>
                <a href={address.planFile(site, 'csv')} className="text-accent underline underline-offset-4" download>
                    As CSV
                </a>
                {mayWork && (
                    <>
                        <Import />
                        <Plan />
                    </>
                )}
            </div>
            <Waiting query={events}>{(known) => <Rows events={known} />}</Waiting>
        </div>
    );
}

function Import() {
    const take = useImportPlan(useSiteKey());
    const problem = take.error instanceof Problem ? take.error : null;

    return (
        <label className="text-sm">
            <span className="sr-only">Take a plan from a file, JSON or CSV</span>
            <input
                type="file"
                accept=".json,.csv,application/json,text/csv"
                onChange={async (event) => {
                    const file = event.target.files?.[0];
                    if (file) {
                        take.mutate(await file.text());
                    }
                    event.target.value = '';
                }}
            />
            <span role="status">{take.data && `${plural(take.data.taken, 'event')} taken`}</span>
            {problem && (
                <span role="alert" className="block text-broken">
                    {problem.errors.plan?.[0] ?? problem.message}
                </span>
            )}
        </label>
    );
}

function Plan() {
    const site = useSiteKey();
    const navigate = useNavigate();
    const [name, setName] = useState('');
    const wrong = name !== '' && !/^[A-Za-z][A-Za-z0-9_.-]{0,63}$/.test(name);

    return (
        <form
            className="ml-auto flex items-end gap-2"
            onSubmit={(event) => {
                event.preventDefault();
                if (name && !wrong) {
                    navigate(address.events(site, name));
                }
            }}
        >
            <TextField
                label="New event"
                className="font-mono text-sm"
                placeholder="brochure_opened"
                value={name}
                error={wrong ? 'Letters, digits, “_”, “.” and “-”.' : undefined}
                onChange={(event) => setName(event.target.value)}
            />
            <Button type="submit" look="main">
                Plan it
            </Button>
        </form>
    );
}

function state(event: Volume): LinkState {
    if (event.count === 0) {
        return 'unseen';
    }

    return event.planned || event.own ? 'holds' : 'doubt';
}

function Rows({ events }: { events: Volume[] }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    if (events.length === 0) {
        return (
            <p className="border-y border-line bg-leaf p-8 text-center">No event was seen and none is planned. Plan the first one above.</p>
        );
    }

    const columns: Column<Volume>[] = [
        { key: 'state', head: 'State', cell: (event) => <StateMark state={state(event)} />, sort: state },
        {
            key: 'event',
            head: 'Event',
            sort: (event) => event.name,
            cell: (event) => (
                <Link to={address.events(site, event.name)} className="font-mono text-sm text-accent underline-offset-4 hover:underline">
                    {event.name}
                </Link>
            ),
        },
        {
            key: 'declared',
            head: 'Declared',
            wide: true,
            cell: (event) =>
                event.planned ? (
                    event.meaning || 'planned'
                ) : event.own ? (
                    <span className="text-soft">sent by the runtime itself</span>
                ) : (
                    <span className="text-doubt-ink">not planned</span>
                ),
        },
        { key: 'seen', head: 'Seen in 28 days', numeric: true, sort: (event) => event.count, cell: (event) => count(event.count) },
        {
            key: 'last',
            head: 'Last',
            numeric: true,
            sort: (event) => event.last,
            className: 'px-3 py-1 text-sm whitespace-nowrap',
            cell: (event) => <Moment at={event.last} />,
        },
    ];

    return (
        <Table
            label="Events"
            columns={columns}
            rows={events}
            rowKey={(event) => event.name}
            onOpen={(event) => navigate(address.events(site, event.name))}
        />
    );
}

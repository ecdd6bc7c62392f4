import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Problem, type LinkState, type Schemas } from '../api/client';
import { useEvents, useImportPlan } from '../api/measures';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { count, plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Waiting } from '../parts/Waiting';
import { MeasuresTabs } from './MeasuresTabs';

type Volume = Schemas['EventVolume'];

/** The tracking plan: every event that is planned or was seen. */
export function Events() {
    const site = useSiteKey();
    const events = useEvents(site);

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
                <Import />
                <Plan />
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
    if (events.length === 0) {
        return (
            <p className="border-y border-line bg-leaf p-8 text-center">No event was seen and none is planned. Plan the first one above.</p>
        );
    }

    return (
        <div className="overflow-x-auto border-y border-line bg-leaf" tabIndex={0} role="region" aria-label="Events">
            <table className="w-full">
                <thead className="border-b border-line text-left text-sm text-soft">
                    <tr>
                        <th className="py-1 pl-3 font-normal">State</th>
                        <th className="px-3 font-normal">Event</th>
                        <th className="w-full px-3 font-normal">Declared</th>
                        <th className="px-3 text-right font-normal whitespace-nowrap">Seen in 28 days</th>
                        <th className="px-3 font-normal">Last</th>
                    </tr>
                </thead>
                <tbody>
                    {events.map((event) => (
                        <tr key={event.name} className="border-b border-line last:border-0">
                            <td className="py-1 pl-3">
                                <StateMark state={state(event)} />
                            </td>
                            <td className="px-3">
                                <Link
                                    to={address.events(site, event.name)}
                                    className="font-mono text-sm text-accent underline-offset-4 hover:underline"
                                >
                                    {event.name}
                                </Link>
                            </td>
                            <td className="px-3">
                                {event.planned ? (
                                    event.meaning || 'planned'
                                ) : event.own ? (
                                    <span className="text-soft">sent by the runtime itself</span>
                                ) : (
                                    <span className="text-doubt-ink">not planned</span>
                                )}
                            </td>
                            <td className="px-3 text-right">{count(event.count)}</td>
                            <td className="px-3 text-sm">
                                <Moment at={event.last} />
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
        </div>
    );
}

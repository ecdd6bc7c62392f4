import { useState } from 'react';
import { Problem, type Schemas } from '../api/client';
import { useCancelScan, useStartScan } from '../api/wiring';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { count, plural } from '../parts/figures';
import { Moment } from '../parts/Moment';

type Scan = Schemas['Scan'];

const DOING = { find: 'Finding pages', inspect: 'Inspecting all pages' };

/** Begins scans, shows how the running one gets on, and what the last one came to. */
export function ScanBar({ scans }: { scans: Scan[] }) {
    const site = useSiteKey();
    const start = useStartScan(site);
    const cancel = useCancelScan(site);
    const running = scans.find((scan) => scan.state === 'running');
    const [limits, setLimits] = useState({ depth: '3', most: '500' });

    return (
        <section aria-label="Scans" className="my-3 border-y border-line bg-leaf px-4 py-2">
            {running ? (
                <div className="flex flex-wrap items-center gap-4">
                    <span>{DOING[running.kind]}</span>
                    <progress
                        className="h-2 w-64 accent-accent"
                        max={Math.max(1, running.total)}
                        value={running.done}
                        aria-label={DOING[running.kind]}
                    />
                    <span role="status">
                        {count(running.done)} of {count(running.total)}
                        {running.seconds_left !== null && `, about ${left(running.seconds_left)} left`}
                    </span>
                    <Button className="ml-auto" onClick={() => cancel.mutate(running.id)} disabled={cancel.isPending}>
                        Cancel the scan
                    </Button>
                </div>
            ) : (
                <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
                    <Button look="main" onClick={() => start.mutate({ kind: 'inspect' })} disabled={start.isPending}>
                        Inspect all pages
                    </Button>
                    <span className="py-1 text-soft">or</span>
                    <Button
                        onClick={() => start.mutate({ kind: 'find', depth: Number(limits.depth), most: Number(limits.most) })}
                        disabled={start.isPending}
                    >
                        Find pages
                    </Button>
                    <div className="w-24">
                        <TextField
                            label="Links deep"
                            inputMode="numeric"
                            value={limits.depth}
                            onChange={(e) => setLimits({ ...limits, depth: e.target.value })}
                        />
                    </div>
                    <div className="w-24">
                        <TextField
                            label="At most"
                            inputMode="numeric"
                            value={limits.most}
                            onChange={(e) => setLimits({ ...limits, most: e.target.value })}
                        />
                    </div>
                    {scans[0] && <Last scan={scans[0]} />}
                </div>
            )}
            {[start.error, cancel.error].map(
                (error) =>
                    error instanceof Problem && (
                        <p key={error.message} role="alert" className="text-broken">
                            {Object.values(error.errors).flat()[0] ?? error.message}
                        </p>
                    ),
            )}
        </section>
    );
}

function Last({ scan }: { scan: Scan }) {
    return (
        <details className="ml-auto text-sm">
            <summary>
                Last scan {scan.state === 'cancelled' ? 'cancelled' : 'ended'} <Moment at={scan.ended_at} />, by {scan.by}:{' '}
                {count(scan.done)} address
                {scan.done === 1 ? '' : 'es'} looked at, {count(scan.found)} new
                {scan.notes.length > 0 && `, ${plural(scan.notes.length, 'note')}`}
            </summary>
            <ul className="mt-1 max-h-48 overflow-auto">
                {scan.notes.map((note) => (
                    <li key={note} className="break-all">
                        {note}
                    </li>
                ))}
                {scan.notes.length === 0 && <li className="text-soft">Nothing stood in its way.</li>}
            </ul>
        </details>
    );
}

function left(seconds: number): string {
    return seconds < 90 ? `${seconds} s` : `${Math.round(seconds / 60)} min`;
}

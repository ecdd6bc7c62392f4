import { useState } from 'react';
import { useCancelRehearsal, type RehearsalReport } from '../api/rehearsals';
import { address } from '../app/address';
import { Button } from '../parts/Button';

/** A rehearsal that is under way: what it does now, how far it is, and what the browser saw last. */
export function Progress({ site, report, mayCancel }: { site: string; report: RehearsalReport; mayCancel: boolean }) {
    const cancel = useCancelRehearsal(site);
    const [failed, setFailed] = useState('');
    const hasFrame = report.files.some(({ name }) => name === 'now.jpg');
    // Another address each second: the picture behind it is another one.
    const frame = `${address.rehearsalFile(site, report.rehearsal, 'now.jpg')}?at=${Math.floor(report.seconds)}`;

    return (
        <section aria-label="Progress" className="flex flex-wrap gap-5 border border-line bg-leaf p-4">
            <div className="min-w-64 flex-1 space-y-2">
                <p aria-live="polite">{report.doing || 'It waits for the browser.'}</p>
                <progress className="w-full" max={report.total || 1} value={report.done} aria-label="Parts that are done" />
                <p className="text-sm text-soft">
                    {report.done} of {report.total} parts
                    {report.seconds_left !== null && `, about ${report.seconds_left} s left`}
                </p>
                {mayCancel && (
                    <Button disabled={cancel.isPending} onClick={() => cancel.mutate(report.rehearsal)}>
                        Cancel
                    </Button>
                )}
                {cancel.error && (
                    <p role="alert" className="text-broken">
                        {cancel.error.message}
                    </p>
                )}
            </div>
            {hasFrame && failed !== frame && (
                <img
                    src={frame}
                    alt="The page as the browser saw it last"
                    className="max-h-56 max-w-sm border border-line"
                    onError={() => setFailed(frame)}
                />
            )}
        </section>
    );
}

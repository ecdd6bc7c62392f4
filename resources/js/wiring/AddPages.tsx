import { useState } from 'react';
import { Problem } from '../api/client';
import { useAddPages, useSeenPages } from '../api/wiring';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextArea } from '../parts/Field';
import { count, plural } from '../parts/figures';

/** So many are offered at once. */
const MOST_SEEN = 200;

/** Takes addresses that somebody typed or pasted, or that events came from and somebody takes for pages. */
export function AddPages() {
    const site = useSiteKey();
    const add = useAddPages(site);
    const seen = useSeenPages(site).data?.addresses ?? [];
    const [open, setOpen] = useState(false);
    const [text, setText] = useState('');
    if (!open) {
        return (
            <p className="mb-4 flex flex-wrap items-baseline gap-3">
                <Button onClick={() => setOpen(true)}>Type or paste addresses</Button>
                {seen.length > 0 && (
                    <>
                        <Button
                            onClick={() => {
                                setText(seen.join('\n'));
                                setOpen(true);
                            }}
                        >
                            Look through {seen.length === MOST_SEEN ? 'the first ' : ''}
                            {seen.length === 1 ? 'an address' : `${count(seen.length)} addresses`}
                        </Button>
                        <span className="text-sm text-soft">
                            that events came from. Anybody can send events: none is fetched before it is added here.
                        </span>
                    </>
                )}
            </p>
        );
    }

    return (
        <form
            className="mb-4 max-w-3xl space-y-2"
            onSubmit={(event) => {
                event.preventDefault();
                add.mutate(text, { onSuccess: (done) => done.refused.length === 0 && setText('') });
            }}
        >
            <TextArea
                label="Addresses or paths, one a line"
                rows={5}
                className="font-mono text-sm"
                value={text}
                error={add.error instanceof Problem ? (add.error.errors.addresses?.[0] ?? add.error.message) : undefined}
                onChange={(event) => setText(event.target.value)}
            />
            <div className="flex gap-3">
                <Button type="submit" look="main" disabled={add.isPending}>
                    Add them
                </Button>
                <Button onClick={() => setOpen(false)}>Close</Button>
            </div>
            {add.data && (
                <div role="status">
                    <p>
                        {plural(add.data.added, 'page')} added, {count(add.data.known)} known before.
                    </p>
                    <ul>
                        {add.data.refused.map((one) => (
                            <li key={one.line} className="text-broken">
                                Line {one.line}, <span className="font-mono text-sm">{one.text}</span>: {one.why}
                            </li>
                        ))}
                    </ul>
                </div>
            )}
        </form>
    );
}

import type { UseQueryResult } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Link } from 'react-router';
import { isChosen, type AuditRead, type Chosen } from '../api/audits';
import type { Schemas } from '../api/client';
import { useSite } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { Moment } from '../parts/Moment';
import { held } from '../parts/words';
import { useChoose } from './part';
import { inZone, localText } from './zoneTime';

interface Props {
    site: string;
    audit: number;
    read: AuditRead;
    chosen: Chosen;
    part: UseQueryResult<Schemas['AuditPart']>;
}

const noParts = (read: AuditRead): string =>
    read.excludes && read.whole
        ? 'Parts are looked at with exclusions.'
        : 'What was counted is kept of the newest audits alone: audit again to look at parts.';

/** Which part is looked at, and what the tests say of it alone; a stretch can be typed here instead of dragged. */
export function PartBar({ site, audit, read, chosen, part }: Props) {
    const choose = useChoose();
    const [typing, setTyping] = useState(false);
    const showAll = (): void => choose({ since: null, until: null, dimension: null, value: null });
    if (!isChosen(chosen)) {
        return typing ? (
            <Stretch read={read} onDone={() => setTyping(false)} />
        ) : (
            <p className="mb-3 flex flex-wrap items-center gap-3 text-sm text-soft">
                All of it is shown. Drag over a picture, or choose a segment, to look at a part.
                <Button className="text-ink" onClick={() => setTyping(true)} disabled={!read.parts}>
                    Choose a stretch…
                </Button>
                {!read.parts && noParts(read)}
            </p>
        );
    }

    return (
        <div role="status" className="mb-3 border border-accent bg-leaf px-3 py-2">
            <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
                <span>
                    Shown:{' '}
                    <strong className="font-semibold">
                        {chosen.dimension && `${chosen.dimension.replace('+', ', ')} ${chosen.value?.replace('+', ', ')}`}
                        {chosen.dimension && (chosen.since || chosen.until) && ', '}
                        {chosen.since && (
                            <>
                                from <Moment at={chosen.since} />{' '}
                            </>
                        )}
                        {chosen.until && (
                            <>
                                to <Moment at={chosen.until} />
                            </>
                        )}
                    </strong>
                </span>
                {chosen.since && chosen.until && (
                    <Link
                        to={`${address.audit(site, audit, 'exclusions')}?${new URLSearchParams({ kind: 'time', from: chosen.since, to: chosen.until })}`}
                        className="text-accent underline underline-offset-4"
                    >
                        Leave this stretch out…
                    </Link>
                )}
                <Button className="ml-auto" onClick={showAll}>
                    Show all of it
                </Button>
            </p>
            {part.isError ? (
                <p role="alert" className="text-broken">
                    {part.error.message}
                </p>
            ) : !read.parts ? (
                <p className="text-doubt-ink">{noParts(read)}</p>
            ) : part.data ? (
                <>
                    <p>{held(part.data.sentence)}</p>
                    <p className="text-sm text-soft">
                        A look after the fact: whoever looks where something was seen finds more than chance would give. Parts are cut at
                        three hours.
                    </p>
                </>
            ) : (
                <p className="text-soft">The tests are made again…</p>
            )}
        </div>
    );
}

function Stretch({ read, onDone }: { read: AuditRead; onDone: () => void }) {
    const zone = useSite(useSiteKey()).data?.time_zone ?? 'UTC';
    const { from, to } = read.report.period;
    const [since, setSince] = useState(from ? localText(from, zone) : '');
    const [until, setUntil] = useState(to ? localText(to, zone) : '');
    const choose = useChoose();
    const wrong = since && until && since >= until ? 'A stretch ends after it begins.' : undefined;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        if (!wrong) {
            choose({ since: since ? inZone(since, zone) : null, until: until ? inZone(until, zone) : null });
            onDone();
        }
    };

    return (
        <form onSubmit={submit} className="mb-3 flex flex-wrap items-end gap-3 border border-line bg-leaf px-3 py-2">
            <div className="w-56">
                <TextField label="From" type="datetime-local" value={since} onChange={(event) => setSince(event.target.value)} />
            </div>
            <div className="w-56">
                <TextField
                    label="To"
                    type="datetime-local"
                    value={until}
                    error={wrong}
                    onChange={(event) => setUntil(event.target.value)}
                />
            </div>
            <Button type="submit" look="main">
                Look at it
            </Button>
            <Button onClick={onDone}>Leave it</Button>
            <span className="text-sm text-soft">Times in {zone}</span>
        </form>
    );
}

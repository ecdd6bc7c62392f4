import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useRight } from '../api/queries';
import { useEndKey, useReplaceKey, useSiteKeys, type SiteKeys } from '../api/sites';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';

type Earlier = SiteKeys['earlier'][number];

/** Time enough for most to change a snippet: common practice, no source. */
const USUAL_DAYS = 30;

/** The key of the site, another one in its place, and those that count for a while yet. */
export function KeysPart({ isArchived }: { isArchived: boolean }) {
    const site = useSiteKey();
    const keys = useSiteKeys(site);
    const isOwner = useRight(site) === 'own' && !isArchived;
    const [asks, setAsks] = useState<'new' | Earlier | null>(null);

    return (
        <section aria-labelledby="keys" className="mt-8 border-t border-line pt-4">
            <h2 id="keys" className="mb-2 text-lg font-semibold">
                Site key
            </h2>
            <Waiting query={keys}>
                {(all) => (
                    <div className="space-y-3">
                        <p className="max-w-3xl">
                            <code className="font-mono text-sm">{all.key}</code>, since <Moment at={all.since} />. It stands in the snippet
                            of{' '}
                            <Link to={address.wiring(site)} className="text-accent underline underline-offset-4">
                                Wiring
                            </Link>{' '}
                            for everybody to read. Replace it when somebody else sends events with it.
                        </p>
                        {isOwner && <Button onClick={() => setAsks('new')}>Replace the key</Button>}
                        {all.earlier.length > 0 && (
                            <Table
                                label="Earlier keys"
                                columns={columns(isOwner ? setAsks : undefined)}
                                rows={all.earlier}
                                rowKey={(one) => one.key}
                            />
                        )}
                    </div>
                )}
            </Waiting>
            {asks === 'new' && <Replace onDone={() => setAsks(null)} />}
            {asks !== null && asks !== 'new' && <End of={asks} onDone={() => setAsks(null)} />}
        </section>
    );
}

const columns = (ask?: (one: Earlier) => void): Column<Earlier>[] => [
    { key: 'key', head: 'Earlier key', cell: (one) => <code className="font-mono text-sm">{one.key}</code> },
    {
        key: 'replaced',
        head: 'Replaced',
        cell: (one) => (
            <>
                <Moment at={one.replaced_at} /> by {one.replaced_by}
            </>
        ),
    },
    {
        key: 'counts',
        head: 'Counts until',
        cell: (one) => (
            <>
                <Moment at={one.ends_at} />
                {!one.counts && <span className="text-soft">, ended</span>}
            </>
        ),
    },
    {
        key: 'last',
        head: 'Last used',
        cell: (one) =>
            one.last ? (
                <>
                    <Moment at={one.last} /> on{' '}
                    <span className="font-mono text-sm break-all">{one.last_page || 'a page without address'}</span>
                </>
            ) : (
                <span className="text-soft">not since</span>
            ),
    },
    {
        key: 'end',
        head: '',
        wide: true,
        cell: (one) =>
            ask && (
                <Button aria-label={`Change the end of ${one.key}`} onClick={() => ask(one)}>
                    Change the end
                </Button>
            ),
    },
];

function Replace({ onDone }: { onDone: () => void }) {
    const replace = useReplaceKey(useSiteKey());
    const navigate = useNavigate();
    const [days, setDays] = useState(`${USUAL_DAYS}`);

    return (
        <Question
            open
            title="Replace the key of the site?"
            yes="Replace it"
            busy={replace.isPending}
            error={replace.error?.message}
            onYes={() => replace.mutate(numberOf(days), { onSuccess: (kept) => navigate(address.settings(kept.key), { replace: true }) })}
            onNo={onDone}
        >
            <p>
                The snippet has another key from then on. Until the earlier one ends, pages that carry either of them work, and what they
                send counts alike. Visitors stay who they are, and keep their variants.
            </p>
            <Days
                label="The earlier key counts for, days"
                note="After that its pages get nothing, and what they send is refused. Coverage lists the pages that carry it yet."
                days={days}
                onChange={setDays}
            />
        </Question>
    );
}

function End({ of, onDone }: { of: Earlier; onDone: () => void }) {
    const end = useEndKey(useSiteKey());
    const [days, setDays] = useState('0');

    return (
        <Question
            open
            title={`Until when does ${of.key} count?`}
            yes={days.trim() === '0' ? 'End it now' : 'Keep the new end'}
            danger={days.trim() === '0'}
            busy={end.isPending}
            error={end.error?.message}
            onYes={() => end.mutate({ key: of.key, days: numberOf(days) }, { onSuccess: onDone })}
            onNo={onDone}
        >
            <p>
                {of.last
                    ? 'Pages that carry it get nothing after that, and what they send is refused.'
                    : 'No page has sent anything with it since it was replaced.'}
            </p>
            <Days label="Days from now" note="0 ends it at once." days={days} onChange={setDays} />
        </Question>
    );
}

function Days({ label, note, days, onChange }: { label: string; note: string; days: string; onChange: (days: string) => void }) {
    return (
        <TextField
            label={label}
            type="number"
            min={0}
            max={400}
            value={days}
            note={note}
            onChange={(event) => onChange(event.target.value)}
        />
    );
}

/** What is no number is left to the server to refuse. */
const numberOf = (text: string): number => (text.trim() === '' ? Number.NaN : Number(text));

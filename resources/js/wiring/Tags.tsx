import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { Problem, type LinkState, type Schemas } from '../api/client';
import { usePublish, useRestore, useWiring } from '../api/wiring';
import { address, useSiteKey } from '../app/address';
import { Button, ButtonLink } from '../parts/Button';
import { TextField } from '../parts/Field';
import { plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { StateMark } from '../parts/StateMark';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { TagForm } from './TagForm';
import { CONSENTS, FIELD_WORDS, KINDS, ONCE, triggerInWords, type Tag } from './tagWords';
import { WiringTabs } from './WiringTabs';

type Wiring = Schemas['Wiring'];

/** The tags of the site: what is being worked on beside what is published and fires. */
export function Tags() {
    const site = useSiteKey();
    const { tag } = useParams();
    const wiring = useWiring(site);

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <Waiting query={wiring}>
                {(known) => (tag ? <TagForm key={tag} wiring={known} tag={tag} /> : <Overview wiring={known} />)}
            </Waiting>
        </div>
    );
}

function Overview({ wiring }: { wiring: Wiring }) {
    const site = useSiteKey();
    const published = wiring.versions[0];
    const keys = [...new Set([...wiring.tags, ...(published?.tags ?? [])].map((tag) => tag.key))];

    return (
        <>
            <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
                <h1 className="text-xl font-semibold">Tags</h1>
                <p className="text-soft">
                    {published ? (
                        <>
                            Version {published.number} is on the pages since <Moment at={published.published_at} />
                        </>
                    ) : (
                        'Nothing is published yet'
                    )}
                    {wiring.unpublished.length > 0 && `; ${plural(wiring.unpublished.length, 'difference')} not published yet`}.
                </p>
                <span className="ml-auto flex gap-2">
                    <ButtonLink to={address.tags(site, 'new')}>Make a tag</ButtonLink>
                    <Publish wiring={wiring} />
                </span>
            </div>
            {keys.length === 0 ? (
                <p className="border-y border-line bg-leaf p-8 text-center">
                    A tag is a script, a piece of HTML or an image that the runtime puts onto pages when something happens. Make the first
                    one.
                </p>
            ) : (
                <>
                    <div className="leaves text-sm text-soft max-md:hidden" aria-hidden="true">
                        <h2 className="py-2 pl-4">Declared: being worked on</h2>
                        <span />
                        <h2 className="py-2 pl-4">Observed: published, and fired in seven days</h2>
                    </div>
                    {keys.map((key) => (
                        <TagRow key={key} wiring={wiring} tag={key} />
                    ))}
                </>
            )}
            <Versions wiring={wiring} />
        </>
    );
}

function TagRow({ wiring, tag: key }: { wiring: Wiring; tag: string }) {
    const site = useSiteKey();
    const tag = wiring.tags.find((one) => one.key === key);
    const live = wiring.versions[0]?.tags.find((one) => one.key === key);
    const difference = wiring.unpublished.find((one) => one.key === key);
    const fired = wiring.fired[key];
    const fault = wiring.faults[key];
    const state: LinkState = fault ? 'broken' : difference ? 'doubt' : fired ? 'holds' : 'unseen';

    return (
        <section className="leaves mb-3" aria-label={tag?.name ?? key} data-tag={key}>
            <div className="border border-line bg-leaf px-4 py-2 max-md:col-start-2">
                {tag ? (
                    <>
                        <h3 className="font-semibold">
                            <Link to={address.tags(site, key)} className="text-accent underline-offset-4 hover:underline">
                                {tag.name}
                            </Link>{' '}
                            <span className="font-mono text-sm font-normal text-soft">{key}</span>
                        </h3>
                        {fault ? <p className="text-broken">It can no longer be read: {fault}</p> : <Summary tag={tag} />}
                    </>
                ) : (
                    <p>
                        <span className="font-mono text-sm">{key}</span> was taken out.
                    </p>
                )}
            </div>
            <div className="relative flex items-center justify-center max-md:hidden">
                <span aria-hidden="true" className="absolute top-1/2 h-px w-full bg-line" />
                <span className="relative bg-ground px-1.5">
                    <StateMark state={state} size={24} />
                </span>
            </div>
            <div className="border border-line bg-leaf px-4 py-2 max-md:col-start-2">
                {!live && <p>Not published: it fires nowhere.</p>}
                {live && !difference && <p>Published as it is in version {wiring.versions[0].number}.</p>}
                {live && difference && (
                    <p className="text-doubt-ink">
                        {tag
                            ? `Version ${wiring.versions[0].number} still has other ${difference.fields.map(({ field }) => FIELD_WORDS[field] ?? field).join(', ')}.`
                            : `Version ${wiring.versions[0].number} still fires it.`}
                    </p>
                )}
                <p className={fired ? '' : 'text-soft'}>
                    {fired ? (
                        <>
                            Fired {plural(fired.count, 'time')}, last <Moment at={fired.last} seconds />
                        </>
                    ) : (
                        'It has not fired.'
                    )}
                </p>
            </div>
        </section>
    );
}

function Summary({ tag }: { tag: Tag }) {
    return (
        <>
            <p className="text-sm">
                {KINDS[tag.kind]}, {ONCE[tag.once]}, {CONSENTS[tag.consent]}
                {tag.after && `, after ${tag.after}`}
            </p>
            <ul className="text-sm text-soft">
                {tag.triggers.map((trigger, i) => (
                    <li key={i}>{triggerInWords(trigger)}</li>
                ))}
            </ul>
        </>
    );
}

function Publish({ wiring }: { wiring: Wiring }) {
    const publish = usePublish(useSiteKey());
    const [note, setNote] = useState<string | null>(null);
    const next = (wiring.versions[0]?.number ?? 0) + 1;
    const problem = publish.error instanceof Problem ? publish.error : null;
    const close = (): void => {
        setNote(null);
        publish.reset();
    };

    return (
        <>
            <Button look="main" disabled={wiring.unpublished.length === 0} onClick={() => setNote('')}>
                Publish version {next}
            </Button>
            <Question
                open={note !== null}
                title={`Publish version ${next}?`}
                yes="Publish"
                busy={publish.isPending}
                error={problem && !problem.errors.note ? problem.message : undefined}
                onYes={() => publish.mutate(note ?? '', { onSuccess: close })}
                onNo={close}
            >
                <ul>
                    {wiring.unpublished.map((one) => (
                        <li key={one.key}>
                            <span className="font-mono text-sm">{one.key}</span>{' '}
                            {one.change === 'changed'
                                ? `changed: ${one.fields.map(({ field }) => FIELD_WORDS[field] ?? field).join(', ')}`
                                : one.change}
                        </li>
                    ))}
                </ul>
                <p>Visitors get it with their next page view. Earlier versions can be restored.</p>
                <TextField
                    label="What is new"
                    value={note ?? ''}
                    error={problem?.errors.note?.[0]}
                    onChange={(event) => setNote(event.target.value)}
                />
            </Question>
        </>
    );
}

function Versions({ wiring }: { wiring: Wiring }) {
    const site = useSiteKey();
    const restore = useRestore(site);
    const [asked, setAsked] = useState<number | null>(null);
    if (wiring.versions.length === 0) {
        return null;
    }

    const live = wiring.versions[0].number;
    const before = (number: number): number => wiring.versions[wiring.versions.findIndex((one) => one.number === number) + 1]?.number ?? 0;
    const line = 'px-3 py-1 whitespace-nowrap';
    const columns: Column<Wiring['versions'][number]>[] = [
        { key: 'version', head: 'Version', sort: ({ number }) => number, className: line, cell: ({ number }) => `Version ${number}` },
        {
            key: 'published',
            head: 'Published',
            sort: ({ published_at }) => published_at,
            className: line,
            cell: ({ published_at }) => <Moment at={published_at} />,
        },
        { key: 'author', head: 'By', sort: ({ author }) => author, className: line, cell: ({ author }) => author },
        { key: 'note', head: 'Note', wide: true, cell: ({ note }) => note },
        { key: 'tags', head: 'Tags', sort: ({ tags }) => tags.length, className: line, cell: ({ tags }) => plural(tags.length, 'tag') },
        {
            key: 'new',
            head: '',
            className: line,
            cell: ({ number }) => (
                <Link
                    to={address.version(site, number, before(number))}
                    className="text-accent underline underline-offset-4"
                    aria-label={`What is new in version ${number}`}
                >
                    What is new
                </Link>
            ),
        },
        {
            key: 'restore',
            head: '',
            className: `${line} text-right`,
            cell: ({ number }) =>
                number === live ? (
                    <span className="text-soft">on the pages</span>
                ) : (
                    <Button onClick={() => setAsked(number)} aria-label={`Restore version ${number}`}>
                        Restore
                    </Button>
                ),
        },
    ];

    return (
        <section aria-label="Versions" className="mt-6">
            <h2 className="mb-1 font-semibold">Published versions</h2>
            <Table
                label="Published versions"
                columns={columns}
                rows={wiring.versions}
                rowKey={({ number }) => String(number)}
                rowData={({ number }) => ({ 'data-version': String(number) })}
            />
            <Question
                open={asked !== null}
                title={`Restore version ${asked}?`}
                yes="Restore it"
                busy={restore.isPending}
                error={restore.error?.message}
                onYes={() => restore.mutate(asked ?? 0, { onSuccess: () => setAsked(null) })}
                onNo={() => setAsked(null)}
            >
                <p>Its tags are published again as version {(wiring.versions[0]?.number ?? 0) + 1}, and become those that you work on.</p>
                {wiring.unpublished.length > 0 && <p className="text-broken">What you have not published yet is lost.</p>}
            </Question>
        </section>
    );
}

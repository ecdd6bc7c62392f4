import { useState, type FormEvent } from 'react';
import { Link } from 'react-router';
import { useRight, useSite } from '../api/queries';
import { useInternalTraffic, useKeepInternal, useMakeMark, useTakeMark, type InternalRules, type InternalTraffic } from '../api/sites';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { count } from '../parts/figures';
import { FormFoot } from '../parts/FormFoot';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { RuleBuilder } from '../parts/RuleBuilder';
import { EVENT_FACTS, type RuleJson } from '../parts/ruleRows';
import { Table, type Column } from '../parts/Table';
import { useDraft } from '../parts/useDraft';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { Copyable } from '../wiring/Copyable';
import { Since } from './Since';

type Mark = InternalTraffic['marks'][number];

const NO_RULE: RuleJson = { all: [] };

/** By what the site's own people and machines are known: what they do is kept apart, and never counted. */
export function InternalPage() {
    const site = useSiteKey();
    const rules = useInternalTraffic(site);
    useTitle('Internal traffic');

    return (
        <div className="mx-auto max-w-4xl px-5 py-4">
            <h1 className="mb-1 text-xl font-semibold">Internal traffic</h1>
            <p className="mb-4 max-w-3xl text-soft">
                What the site’s own people and machines do is kept apart: it enters no experiment’s figures, and reaches no goal. It stands
                in the{' '}
                <Link to={`${address.feed(site)}?own=1`} className="text-accent underline underline-offset-4">
                    live feed
                </Link>{' '}
                for 30 days. What has arrived before stays as it was counted. <Since of="internal" />
            </p>
            <Waiting query={rules}>
                {(kept) => (
                    <>
                        <Seen kept={kept} />
                        <Marks marks={kept.marks} />
                        <Rules kept={kept} />
                    </>
                )}
            </Waiting>
        </div>
    );
}

function Seen({ kept }: { kept: InternalTraffic }) {
    const columns: Column<InternalTraffic['seen'][number]>[] = [
        { key: 'label', head: 'Known by', cell: (one) => one.label },
        { key: 'n', head: 'Events', numeric: true, cell: (one) => count(one.n) },
        { key: 'last', head: 'Last', cell: (one) => <Moment at={one.last} /> },
    ];

    return (
        <section aria-labelledby="seen" className="mb-6">
            <h2 id="seen" className="mb-2 text-lg font-semibold">
                Kept apart in the last {kept.days} days
            </h2>
            {kept.seen.length === 0 ? (
                <p>Nothing. Mark your own browser below, or say which addresses are yours.</p>
            ) : (
                <Table label="Kept apart" columns={columns} rows={kept.seen} rowKey={(one) => one.reason} />
            )}
        </section>
    );
}

function Marks({ marks }: { marks: Mark[] }) {
    const site = useSiteKey();
    const make = useMakeMark(site);
    const take = useTakeMark(site);
    const [name, setName] = useState('');
    const [asks, setAsks] = useState<Mark | null>(null);
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        make.mutate(name, { onSuccess: () => setName('') });
    };

    return (
        <section aria-labelledby="marks" className="mb-6">
            <h2 id="marks" className="mb-1 text-lg font-semibold">
                Marked browsers
            </h2>
            <p className="mb-3 max-w-3xl text-soft">
                A link marks the browser that opens it, for as long as its visitor cookie lasts. Give each person one of their own, so that
                it can be taken back. A page opened with <code className="font-mono text-sm">?plx_own=0</code> takes the mark away.
            </p>
            <ul className="mb-3 space-y-3">
                {marks.map((mark) => (
                    <MarkLinks key={mark.token} mark={mark} onTake={() => setAsks(mark)} />
                ))}
            </ul>
            <form onSubmit={submit} noValidate className="flex flex-wrap items-end gap-3">
                <div className="w-72">
                    <TextField
                        label="Whose browsers"
                        value={name}
                        maxLength={80}
                        placeholder="such as Tom, or the support desk"
                        error={make.error?.message}
                        onChange={(event) => setName(event.target.value)}
                    />
                </div>
                <Button type="submit" disabled={make.isPending || name.trim() === ''}>
                    Make a link
                </Button>
            </form>
            <Question
                open={asks !== null}
                title={`Take back the mark of ${asks?.name ?? ''}?`}
                yes="Take it back"
                danger
                busy={take.isPending}
                error={take.error?.message}
                onYes={() => asks && take.mutate(asks.token, { onSuccess: () => setAsks(null) })}
                onNo={() => setAsks(null)}
            >
                <p>Browsers that have it count as any visitor’s from then on.</p>
            </Question>
        </section>
    );
}

function MarkLinks({ mark, onTake }: { mark: Mark; onTake: () => void }) {
    const site = useSite(useSiteKey()).data;
    const home = site?.demo_origin ?? `https://${site?.hosts[0] ?? ''}`;

    return (
        <li className="border border-line bg-leaf p-3">
            <div className="mb-1 flex flex-wrap items-center gap-3">
                <span className="flex-1 font-semibold">{mark.name}</span>
                <Button look="danger" aria-label={`Take back the mark of ${mark.name}`} onClick={onTake}>
                    Take back
                </Button>
            </div>
            <Copyable text={`${home}/?plx_own=${mark.token}`} name="link" />
        </li>
    );
}

function Rules({ kept }: { kept: InternalTraffic }) {
    const site = useSiteKey();
    const isOwner = useRight(site) === 'own';
    const hosts = useSite(site).data?.hosts ?? [];
    const save = useKeepInternal(site);
    const form = useDraft<InternalRules>(() => ({ addresses: kept.addresses, agents: kept.agents, rule: kept.rule }), save);
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(draft, { onSuccess: ({ addresses, agents, rule }) => form.kept({ addresses, agents, rule }) });
    };
    const rows = draft.addresses;
    const isKnown = kept.your_address === null || rows.some(({ range }) => range === kept.your_address);

    return (
        <form onSubmit={submit} noValidate>
            <fieldset disabled={!isOwner} className="space-y-5">
                <fieldset className="space-y-2">
                    <legend className="mb-0.5 text-lg font-semibold">Addresses</legend>
                    {rows.map((row, i) => (
                        <div key={i} className="flex flex-wrap items-start gap-2">
                            <div className="w-72">
                                <TextField
                                    label={`Address or range ${i + 1}`}
                                    hideLabel
                                    className="font-mono"
                                    placeholder="192.0.2.0/24 or 2001:db8::/48"
                                    value={row.range}
                                    error={errors[`addresses.${i}.range`]}
                                    onChange={(event) =>
                                        set({ addresses: rows.map((one, j) => (i === j ? { ...one, range: event.target.value } : one)) })
                                    }
                                />
                            </div>
                            <div className="min-w-48 flex-1">
                                <TextField
                                    label={`What address ${i + 1} is`}
                                    hideLabel
                                    placeholder="what it is, such as the office"
                                    value={row.note}
                                    error={errors[`addresses.${i}.note`]}
                                    onChange={(event) =>
                                        set({ addresses: rows.map((one, j) => (i === j ? { ...one, note: event.target.value } : one)) })
                                    }
                                />
                            </div>
                            <Button
                                aria-label={`Remove address ${i + 1}`}
                                onClick={() => set({ addresses: rows.filter((_, j) => j !== i) })}
                            >
                                Remove
                            </Button>
                        </div>
                    ))}
                    <div className="flex flex-wrap gap-3">
                        <Button onClick={() => set({ addresses: [...rows, { range: '', note: '' }] })}>Add an address</Button>
                        {!isKnown && (
                            <Button onClick={() => set({ addresses: [...rows, { range: kept.your_address ?? '', note: '' }] })}>
                                Add {kept.your_address}, where you are now
                            </Button>
                        )}
                    </div>
                    {errors.addresses && (
                        <p role="alert" className="text-sm text-broken">
                            {errors.addresses}
                        </p>
                    )}
                    <p className="text-sm text-soft">Visitors’ addresses are compared with these as they arrive, and kept nowhere.</p>
                </fieldset>
                <fieldset className="space-y-2">
                    <legend className="mb-0.5 text-lg font-semibold">Machines, by their user agent</legend>
                    {draft.agents.map((part, i) => (
                        <div key={i} className="flex items-start gap-2">
                            <div className="w-72">
                                <TextField
                                    label={`Part of a user agent ${i + 1}`}
                                    hideLabel
                                    className="font-mono"
                                    placeholder="a part of it, such as uptime-check"
                                    value={part}
                                    error={errors[`agents.${i}`]}
                                    onChange={(event) =>
                                        set({ agents: draft.agents.map((one, j) => (i === j ? event.target.value : one)) })
                                    }
                                />
                            </div>
                            <Button
                                aria-label={`Remove user agent ${i + 1}`}
                                onClick={() => set({ agents: draft.agents.filter((_, j) => j !== i) })}
                            >
                                Remove
                            </Button>
                        </div>
                    ))}
                    <Button onClick={() => set({ agents: [...draft.agents, ''] })}>Add a user agent</Button>
                    {errors.agents && (
                        <p role="alert" className="text-sm text-broken">
                            {errors.agents}
                        </p>
                    )}
                </fieldset>
                <div>
                    <h2 className="mb-1 text-lg font-semibold">Events that a rule knows</h2>
                    {draft.rule === null ? (
                        <Button onClick={() => set({ rule: NO_RULE })}>Write a rule</Button>
                    ) : (
                        <div className="space-y-2">
                            <RuleBuilder
                                label="An event is of own people if"
                                rule={draft.rule as RuleJson}
                                facts={['event.props.', ...EVENT_FACTS]}
                                hosts={hosts}
                                errors={errors}
                                path="rule"
                                onChange={(rule) => set({ rule })}
                            />
                            <Button onClick={() => set({ rule: null })}>Have no rule</Button>
                        </div>
                    )}
                </div>
                {isOwner ? (
                    <FormFoot form={form} submit="Keep" saved="Kept" />
                ) : (
                    <p className="text-soft">Owners of the site change these.</p>
                )}
            </fieldset>
        </form>
    );
}

import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useExclusions, useWithdrawExclusion, type Exclusion } from '../../api/audits';
import { useRight, useSite } from '../../api/queries';
import { Button } from '../../parts/Button';
import { count, percent } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Question } from '../../parts/Question';
import { Table, type Column } from '../../parts/Table';
import { Waiting } from '../../parts/Waiting';
import type { ViewProps } from '../AuditPage';
import { kindWords } from '../exclusion';
import { ExclusionForm } from '../ExclusionForm';

type Effect = ViewProps['read']['report']['exclusions'][number];

/** What this audit left out, whether that took as much of each variant, and what the next ones will leave out. */
export function ExclusionsView({ site, audit, read }: ViewProps) {
    const [params, setParams] = useSearchParams();
    const exclusions = useExclusions(site, audit.audit);
    const zone = useSite(site).data?.time_zone;
    const mayWork = useRight(site) !== 'look';
    const isMaking = params.has('kind');
    const done = (): void =>
        setParams((before) => new URLSearchParams([...before].filter(([name]) => !['kind', 'from', 'to', 'page'].includes(name))));
    const make = (): void => setParams((before) => new URLSearchParams([...before, ['kind', 'internal']]));
    const { exclusions: effects } = read.report;

    return (
        <div className="space-y-5">
            {effects.length > 0 && (
                <section aria-label="What this audit left out">
                    <h2 className="mb-1 font-semibold">What this audit left out</h2>
                    <Table label="What this audit left out" columns={columnsOf(read)} rows={effects} rowKey={(one) => one.name} />
                    <p className="mt-1 max-w-3xl text-sm text-soft">
                        p tells how likely it is that chance took so different parts of the variants: Fisher’s exact test, of more than two
                        variants chi-square. Where it is small, what is left differs by what was left out.
                    </p>
                </section>
            )}
            <section aria-label="What audits leave out">
                <div className="mb-2 flex flex-wrap items-center gap-3">
                    <h2 className="flex-1 font-semibold">Exclusions</h2>
                    {mayWork && !isMaking && (
                        <Button look="main" onClick={make}>
                            Leave something out
                        </Button>
                    )}
                </div>
                {isMaking && mayWork && zone && (
                    <div className="mb-3">
                        <ExclusionForm site={site} audit={audit} zone={zone} onDone={done} />
                    </div>
                )}
                <Waiting query={exclusions}>
                    {(all) =>
                        all.length === 0 ? (
                            <p className="max-w-3xl">
                                Nothing is left out. Bots, one’s own people, a stretch of time or pages can be: by a rule with a name and a
                                date. No event is deleted, and every audit can be read with and without.
                            </p>
                        ) : (
                            <ul className="border-y border-line bg-leaf">
                                {all.map((one) => (
                                    <li key={one.id} className="border-b border-line px-3 py-2 last:border-b-0">
                                        <One
                                            site={site}
                                            exclusion={one}
                                            mayWork={mayWork}
                                            isUsed={effects.some(({ name }) => name === one.exclusion.name)}
                                        />
                                    </li>
                                ))}
                            </ul>
                        )
                    }
                </Waiting>
            </section>
        </div>
    );
}

function columnsOf(read: ViewProps['read']): Column<Effect>[] {
    const { variants } = read.report.counts;

    return [
        { key: 'name', head: 'Exclusion', cell: (one) => <span className="font-semibold">{one.name}</span>, wide: true },
        { key: 'kind', head: 'Kind', cell: (one) => <span className="whitespace-nowrap">{kindWords(one.kind)}</span> },
        { key: 'visitors', head: 'Visitors', numeric: true, cell: (one) => count(one.visitors), sort: (one) => one.visitors },
        { key: 'events', head: 'Events', numeric: true, cell: (one) => count(one.events), sort: (one) => one.events },
        ...Object.keys(variants).map((key): Column<Effect> => ({
            key: `variant ${key}`,
            head: `Exposed to ${key}`,
            numeric: true,
            cell: (one) => {
                const out = one.by_variant[key] ?? 0;

                return (
                    <>
                        {count(out)} <span className="text-sm text-soft">{percent(out / Math.max(1, out + variants[key]))}</span>
                    </>
                );
            },
        })),
        {
            key: 'p',
            head: 'p',
            numeric: true,
            cell: (one) => (one.p === null ? '–' : one.p < 0.0001 ? 'under 0.0001' : one.p.toFixed(4)),
            sort: (one) => one.p,
        },
    ];
}

interface OneProps {
    site: string;
    exclusion: Exclusion;
    mayWork: boolean;
    isUsed: boolean;
}

function One({ site, exclusion: { id, exclusion, everywhere, reason, author, made, withdrawn, withdrawn_by }, mayWork, isUsed }: OneProps) {
    const [asks, setAsks] = useState(false);
    const withdraw = useWithdrawExclusion(site);

    return (
        <div className="flex flex-wrap items-start gap-x-4 gap-y-1">
            <div className={`min-w-0 flex-1 basis-80 ${withdrawn ? 'text-soft' : ''}`}>
                <p>
                    <span className="font-semibold">{exclusion.name}</span> · {kindWords(exclusion.kind)}
                    {everywhere ? ', in every experiment of this site' : ''}
                    {exclusion.from && exclusion.to && (
                        <>
                            , <Moment at={exclusion.from} /> to <Moment at={exclusion.to} />
                        </>
                    )}
                </p>
                <p>{reason}</p>
                {exclusion.rule && <code className="block font-mono text-xs break-all text-soft">{JSON.stringify(exclusion.rule)}</code>}
                {exclusion.visitors && <p className="text-sm text-soft">{count(exclusion.visitors.length)} visitors by their ids</p>}
                <p className="text-sm text-soft">
                    by {author}, <Moment at={made} />
                    {withdrawn ? (
                        <>
                            ; withdrawn by {withdrawn_by}, <Moment at={withdrawn} />
                        </>
                    ) : (
                        !isUsed && '; the next audit goes by it'
                    )}
                </p>
            </div>
            {mayWork && !withdrawn && <Button onClick={() => setAsks(true)}>Withdraw</Button>}
            <Question
                open={asks}
                title={`Withdraw “${exclusion.name}”?`}
                yes="Withdraw it"
                busy={withdraw.isPending}
                error={withdraw.error?.message}
                onYes={() => withdraw.mutate(id, { onSuccess: () => setAsks(false) })}
                onNo={() => setAsks(false)}
            >
                <p>Audits from the next one on go without it. Those that were made stay as they are, and it stays in this list.</p>
            </Question>
        </div>
    );
}

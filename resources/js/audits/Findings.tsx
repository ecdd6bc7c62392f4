import { Link, useSearchParams } from 'react-router';
import type { AuditFinding, AuditRead, ReadAudit } from '../api/audits';
import { address } from '../app/address';
import { useKeys } from '../app/keys';
import { LINK_LABELS } from '../parts/vocabulary';
import { held } from '../parts/words';
import type { ViewProps } from './AuditPage';
import { FindingDetail } from './FindingDetail';
import { flat, Grade } from './grades';

/** Every finding on the left, those that follow from others under them; the one that is chosen on the right. */
export function Findings({ site, audit, read }: ViewProps) {
    const [params, setParams] = useSearchParams();
    const link = params.get('link');
    const all = flat(read.report.findings).filter(({ finding }) => !link || finding.link === link);
    const chosen = all.find(({ finding }) => finding.identity === params.get('finding')) ?? all[0];
    const go = (step: number): void => {
        const next = all[all.findIndex((one) => one === chosen) + step];
        if (next) {
            setParams((before) => with_(before, next.finding), { replace: true });
        }
    };
    useKeys({ j: () => go(1), k: () => go(-1) });
    if (all.length === 0) {
        return (
            <div className="space-y-3">
                <p className="border-y border-line bg-leaf p-8">
                    {link
                        ? `Nothing was found at ${LINK_LABELS[link as keyof typeof LINK_LABELS] ?? link}.`
                        : 'Nothing was found. What was looked at, what was not, and the smallest fault that would have shown stands under “What was checked”.'}
                </p>
                <Mended read={read} />
            </div>
        );
    }

    return (
        <>
            <div className="grid gap-x-6 gap-y-4 lg:grid-cols-[minmax(0,5fr)_minmax(0,8fr)]">
                <ol aria-label="Findings" className="min-w-0 self-start border-y border-line bg-leaf">
                    {all.map(({ finding, depth }) => (
                        <Line
                            key={finding.identity}
                            site={site}
                            audit={audit}
                            read={read}
                            finding={finding}
                            depth={depth}
                            chosen={finding === chosen.finding}
                            params={params}
                        />
                    ))}
                </ol>
                <FindingDetail key={chosen.finding.identity} site={site} audit={audit} read={read} finding={chosen.finding} />
            </div>
            <Mended read={read} />
        </>
    );
}

function with_(before: URLSearchParams, finding: AuditFinding): URLSearchParams {
    const next = new URLSearchParams(before);
    next.set('finding', finding.identity);

    return next;
}

interface LineProps {
    site: string;
    audit: ReadAudit;
    read: AuditRead;
    finding: AuditFinding;
    depth: number;
    chosen: boolean;
    params: URLSearchParams;
}

const STANDING = {
    open: '',
    explained: 'explained',
    expired: 'explanation ended',
    declared: 'said to be mended',
    mended: 'mended, confirmed',
    contradicted: 'said to be mended, goes on',
};

function Line({ site, audit, read, finding, depth, chosen, params }: LineProps) {
    const said = read.standings.find(({ identity }) => identity === finding.identity);
    const isQuiet = said && ['explained', 'mended', 'declared'].includes(said.standing);

    return (
        <li style={{ paddingLeft: `${depth * 1.25}rem` }} className={`border-b border-line last:border-b-0 ${chosen ? 'bg-ground' : ''}`}>
            <Link
                to={`${address.audit(site, audit.audit)}?${with_(params, finding)}`}
                replace
                aria-current={chosen ? 'true' : undefined}
                className={`flex gap-2.5 border-l-3 px-3 py-2 hover:bg-ground ${chosen ? 'border-accent' : 'border-transparent'}`}
            >
                <span className="mt-0.5">
                    <Grade severity={finding.severity} />
                </span>
                <span className={`min-w-0 ${isQuiet ? 'text-soft' : ''}`}>
                    <span className="block font-semibold">
                        {depth > 0 && <span className="font-normal text-soft">It follows: </span>}
                        {read.codes[finding.code]?.label ?? finding.code}
                        {read.new.includes(finding.identity) && (
                            <span className="ml-2 border border-ink px-1 text-xs font-normal">new</span>
                        )}
                        {said && said.standing !== 'open' && (
                            <span className={`ml-2 text-xs font-normal ${said.standing === 'contradicted' ? 'text-broken' : 'text-soft'}`}>
                                {STANDING[said.standing]}
                            </span>
                        )}
                    </span>
                    <span className="line-clamp-2 text-sm">{held(finding.message)}</span>
                </span>
            </Link>
        </li>
    );
}

function Mended({ read }: { read: AuditRead }) {
    if (read.mended.length === 0) {
        return null;
    }

    return (
        <section aria-label="Found last time, and not any more" className="mt-6">
            <h2 className="mb-1 font-semibold">Found last time, and not any more</h2>
            <ul className="border-y border-line bg-leaf">
                {read.mended.map((one) => (
                    <li key={one.identity} className="flex gap-2.5 border-b border-line px-3 py-1.5 text-sm last:border-b-0">
                        <Grade severity={one.severity} />
                        <span>
                            {read.codes[one.code]?.label ?? one.code}: {one.message}
                        </span>
                    </li>
                ))}
            </ul>
        </section>
    );
}

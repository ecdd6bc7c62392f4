import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { AuditFinding, AuditRead, ReadAudit } from '../api/audits';
import { useRight } from '../api/queries';
import { Moment } from '../parts/Moment';
import { LINK_LABELS } from '../parts/vocabulary';
import { held } from '../parts/words';
import { doors } from './doors';
import { Grade } from './grades';
import { Numbers } from './Numbers';
import { Said } from './Said';

/** A finding: what it is, since when, whom it touches, why it may be, why it may be none, and what to do next. */
export function FindingDetail({ site, audit, read, finding }: { site: string; audit: ReadAudit; read: AuditRead; finding: AuditFinding }) {
    const code = read.codes[finding.code];
    const mayWork = useRight(site) !== 'look';

    return (
        <article aria-label="The chosen finding" className="min-w-0 border-y border-line bg-leaf px-4 py-3">
            <p className="flex flex-wrap items-center gap-x-2 text-sm text-soft">
                <Grade severity={finding.severity} /> {finding.severity} · {LINK_LABELS[finding.link]} ·{' '}
                <span className="font-mono text-xs">{finding.code}</span>
            </p>
            <h2 className="mt-1 text-lg font-semibold">{held(finding.message)}</h2>
            <p className="mt-1 text-sm text-soft">
                {finding.since || finding.until ? (
                    <>
                        {finding.since ? (
                            <>
                                Since <Moment at={finding.since} />
                            </>
                        ) : (
                            'From the beginning'
                        )}
                        {finding.until ? (
                            <>
                                {' '}
                                until <Moment at={finding.until} />
                            </>
                        ) : (
                            ', and it goes on'
                        )}
                        .
                    </>
                ) : (
                    'It has no beginning and no end within the data.'
                )}
            </p>
            <ul className="mt-3 flex flex-wrap gap-2">
                {doors(site, audit, finding).map((door) => (
                    <li key={door.label}>
                        <Link
                            to={door.to}
                            className={`inline-flex items-center rounded-xs border px-3 py-1 ${door.main ? 'border-accent bg-accent text-white hover:border-ink hover:bg-ink' : 'border-line bg-leaf hover:border-ink'}`}
                        >
                            {door.label}
                        </Link>
                    </li>
                ))}
            </ul>
            <div className="mt-4 grid gap-x-8 gap-y-3 md:grid-cols-2">
                <Words title="It may be" list={finding.causes} />
                <Words title="What to do next" list={finding.next} />
                <div>
                    <h3 className="font-semibold">What this check looks for</h3>
                    <p className="text-sm">{code?.what}</p>
                </div>
                <div>
                    <h3 className="font-semibold">What makes it fire though nothing is wrong</h3>
                    <p className="text-sm">{code?.falsely}</p>
                </div>
            </div>
            <details className="mt-3 border-t border-line pt-2" open>
                <summary>The numbers, and how it was decided</summary>
                <p className="mt-1 text-sm">
                    {code?.test} <span className="text-soft">Source: {code?.source}.</span>
                </p>
                <Numbers site={site} audit={audit} finding={finding} variants={Object.keys(read.report.counts.variants)} />
            </details>
            <Said site={site} audit={audit} read={read} finding={finding} mayWork={mayWork} />
        </article>
    );
}

function Words({ title, list }: { title: string; list: string[] }): ReactNode {
    if (list.length === 0) {
        return null;
    }

    return (
        <div>
            <h3 className="font-semibold">{title}</h3>
            <ul className="list-disc pl-5 text-sm">
                {list.map((one) => (
                    <li key={one}>{one}</li>
                ))}
            </ul>
        </div>
    );
}

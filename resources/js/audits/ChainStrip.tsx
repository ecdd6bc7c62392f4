import { Link, useSearchParams } from 'react-router';
import type { AuditRead, ReadAudit } from '../api/audits';
import type { LinkState } from '../api/client';
import { address } from '../app/address';
import { LINKS } from '../parts/chain';
import { StateMark } from '../parts/StateMark';
import { flat } from './grades';

/** The signal chain with what the audit found at each link; a link shows its findings alone. */
export function ChainStrip({ site, audit, read }: { site: string; audit: ReadAudit; read: AuditRead }) {
    const [params] = useSearchParams();
    const chosen = params.get('link');
    const findings = flat(read.report.findings).map(({ finding }) => finding);
    const ran = new Set(read.report.checks.filter((check) => check.ran).map(({ code }) => read.codes[code]?.link));
    const state = (link: string): LinkState => {
        const own = findings.filter((one) => one.link === link);

        return own.some(({ severity }) => severity === 'blocker')
            ? 'broken'
            : own.some(({ severity }) => severity === 'warning')
              ? 'doubt'
              : ran.has(link as never)
                ? 'holds'
                : 'unseen';
    };

    return (
        <nav aria-label="Findings by link of the chain" className="border-y border-line bg-leaf">
            <div className="mx-auto flex max-w-7xl overflow-x-auto px-5">
                {LINKS.map(({ link, label }, i) => {
                    const number = findings.filter((one) => one.link === link).length;
                    const words = number === 0 ? (state(link) === 'holds' ? 'nothing found' : 'not looked at') : `${number} found`;

                    return (
                        <Link
                            key={link}
                            to={`${address.audit(site, audit.audit)}${chosen === link ? '' : `?link=${link}`}`}
                            aria-current={chosen === link ? 'true' : undefined}
                            className="flex flex-1 flex-col items-center border-b-3 border-transparent px-3 py-1.5 whitespace-nowrap hover:bg-ground aria-[current]:border-accent"
                        >
                            <span className="flex items-center gap-2">
                                {i > 0 && <span aria-hidden="true" className="-ml-6 h-px w-4 bg-line" />}
                                <StateMark state={state(link)} />
                                {label}
                            </span>
                            <span className={`text-xs ${number > 0 ? 'font-semibold' : 'text-soft'}`}>{words}</span>
                        </Link>
                    );
                })}
            </div>
        </nav>
    );
}

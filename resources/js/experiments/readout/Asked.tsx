import { Link } from 'react-router';
import type { Experiment, Site } from '../../api/client';
import { usePlan } from '../../api/plans';
import type { DecisionRule, Readout } from '../../api/readout';
import { address } from '../../app/address';
import { count } from '../../parts/figures';
import { ReadoutRow } from './ReadoutRow';
import { ruleInWords } from './rule';

interface Props {
    site: Site;
    experiment: Experiment;
    rule: DecisionRule | null;
    report: Readout;
    audit: number | null;
    shows: boolean;
}

/** Hypothesis, plan and rule beside how many came, and what speaks against their figures. */
export function Asked({ site, experiment, rule, report, audit, shows }: Props) {
    const plan = usePlan(site.key, experiment.key);
    const { planned, have, is } = report.enough;

    return (
        <>
            <ReadoutRow
                declared={
                    <>
                        <p>{experiment.hypothesis || 'No hypothesis was declared.'}</p>
                        <p className="mt-1 text-sm text-soft">{plan.data?.outcome.words ?? 'No plan was made.'}</p>
                    </>
                }
                spine={
                    is === null ? (
                        ''
                    ) : (
                        <span className={is ? 'text-holds' : 'text-doubt-ink'}>{is ? 'enough visitors' : 'too few visitors'}</span>
                    )
                }
                observed={
                    shows ? (
                        <p>
                            {have === null ? '–' : count(have)} visitors who met one variant alone
                            {planned === null ? '; nobody planned how many are needed.' : `, of ${count(planned)} that the plan asks for.`}
                        </p>
                    ) : (
                        <p className="text-soft">Covered.</p>
                    )
                }
            />
            <ReadoutRow
                declared={
                    <>
                        <p className="text-sm font-semibold">How it is decided</p>
                        <p>{ruleInWords(rule)}</p>
                    </>
                }
                spine={
                    <span
                        className={report.gate.open ? (report.gate.findings.length > 0 ? 'text-doubt-ink' : 'text-holds') : 'text-broken'}
                    >
                        {report.gate.open ? (report.gate.findings.length > 0 ? 'data: with care' : 'data fits') : 'data not fit'}
                    </span>
                }
                observed={
                    <>
                        {report.gate.findings.length === 0 && (
                            <p>Nothing blocks, and nothing warns: the chain holds, and the last audit found nothing.</p>
                        )}
                        <ul className="space-y-1">
                            {report.gate.findings.slice(0, 8).map((one) => (
                                <li
                                    key={`${one.code} ${one.message}`}
                                    className={`border-l-3 pl-2 ${one.severity === 'blocker' ? 'border-broken' : 'border-doubt'}`}
                                >
                                    {one.message} <span className="font-mono text-xs text-soft">{one.code}</span>
                                    {(one.without ?? []).map((words) => (
                                        <strong key={words} className="block">
                                            {words}
                                        </strong>
                                    ))}
                                </li>
                            ))}
                        </ul>
                        {audit !== null && (
                            <Link to={address.audit(site.key, audit)} className="text-sm text-accent underline underline-offset-4">
                                The audit behind this
                            </Link>
                        )}
                    </>
                }
            />
        </>
    );
}

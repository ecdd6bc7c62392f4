import type { Experiment, Site } from '../../api/client';
import { useRight } from '../../api/queries';
import { useReadout, type ReadReadout, type Readout } from '../../api/readout';
import { address } from '../../app/address';
import { ButtonLink } from '../../parts/Button';
import { Moment } from '../../parts/Moment';
import { Waiting } from '../../parts/Waiting';
import { Asked } from './Asked';
import { Cover, Lifted } from './Cover';
import { CourseFigure } from './CourseFigure';
import { Decisions } from './Decisions';
import { GoalResults } from './GoalResults';
import { ReadoutRow } from './ReadoutRow';
import { RuleForm } from './RuleForm';
import { Segments } from './Segments';
import { Values } from './Values';
import { VERDICTS } from './verdicts';

/** What an experiment says, and whether it may be believed: what was declared on the left, what was observed on the right, the verdict between. */
export function ReadoutPage({ site, experiment }: { site: Site; experiment: Experiment }) {
    const read = useReadout(site.key, experiment.key);
    const mayWork = useRight(site.key) !== 'look';

    return (
        <Waiting query={read}>
            {(known) =>
                experiment.started_at === null ? (
                    <div className="is-edited mx-auto max-w-7xl px-5 py-4">
                        <RuleForm site={site} experiment={experiment} rule={known.rule} mayWork={mayWork} />
                    </div>
                ) : known.report === null ? (
                    <p className="mx-auto max-w-7xl px-5 py-6" role="status">
                        {known.problem ?? 'Its figures are being put together for the first time. This takes some seconds.'}
                    </p>
                ) : (
                    <Read site={site} experiment={experiment} known={known} report={known.report} mayWork={mayWork} />
                )
            }
        </Waiting>
    );
}

interface Props {
    site: Site;
    experiment: Experiment;
    known: ReadReadout;
    report: Readout;
    mayWork: boolean;
}

function Read({ site, experiment, known, report, mayWork }: Props) {
    const shows = report.gate.open || report.gate.lifted;
    const primary = report.goals[0];
    const verdict = primary?.verdict ? VERDICTS[primary.verdict] : null;

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <section aria-label="Verdict" className="border-y-2 border-ink bg-leaf px-4 py-3">
                <p className="text-lg leading-snug font-semibold" role="status" data-figure="verdict">
                    {verdict && shows && (
                        <span className={`mr-2 ${verdict.colour}`} aria-hidden="true">
                            {verdict.sign}
                        </span>
                    )}
                    {report.sentence}
                </p>
                <p className="mt-1 text-sm text-soft">
                    {report.why} Level {Math.round(1000 * report.level) / 10} %. Read <Moment at={known.at} seconds />.
                </p>
                {report.gate.lifted && <Lifted known={known} site={site} experiment={experiment} mayWork={mayWork} />}
            </section>
            {!shows && <Cover site={site} experiment={experiment} known={known} mayWork={mayWork} />}
            <div className="mt-4">
                <ReadoutRow
                    head
                    declared={<h2 className="font-semibold">Declared</h2>}
                    spine=""
                    observed={<h2 className="font-semibold">Observed</h2>}
                />
                <Asked site={site} experiment={experiment} rule={known.rule} report={report} audit={known.audit} shows={shows} />
                {report.goals.map((goal) => (
                    <ReadoutRow
                        key={goal.key}
                        declared={
                            <>
                                <strong>{goal.name}</strong> <span className="text-sm text-soft">({goal.role})</span>
                                <p className="text-sm text-soft">{askedOf(goal)}</p>
                            </>
                        }
                        spine={
                            goal.verdict && shows ? (
                                <span className={VERDICTS[goal.verdict].colour}>
                                    <span aria-hidden="true" className="block text-lg leading-none">
                                        {VERDICTS[goal.verdict].sign}
                                    </span>
                                    {VERDICTS[goal.verdict].words}
                                </span>
                            ) : (
                                ''
                            )
                        }
                        observed={
                            shows ? (
                                <>
                                    {goal.key !== primary?.key && <p className="mb-1">{goal.sentence}</p>}
                                    {goal.role === 'secondary' && (
                                        <p className="mb-1 text-sm text-soft">
                                            Exploratory: the primary goal decides, and this one tells what to look at next.
                                        </p>
                                    )}
                                    <GoalResults goal={goal} experiment={experiment} />
                                    {goal.by_rate && (
                                        <>
                                            <h3 className="mt-3 text-sm font-semibold">
                                                The same by the part of the visitors who reached it
                                            </h3>
                                            <GoalResults goal={goal.by_rate} experiment={experiment} />
                                        </>
                                    )}
                                    {goal.disagreement && <p className="mt-2 border-l-3 border-doubt pl-2">{goal.disagreement}</p>}
                                </>
                            ) : (
                                <p className="text-soft">Covered.</p>
                            )
                        }
                    />
                ))}
            </div>
            <Decisions site={site} experiment={experiment} known={known} shows={shows} />
            {shows && <Behind report={report} experiment={experiment} />}
            <p className="mt-6 flex flex-wrap items-center gap-3 text-sm">
                As a file:
                {(['html', 'csv', 'json'] as const).map((format) => (
                    <ButtonLink key={format} reloadDocument to={address.readoutFile(site.key, experiment.key, format)}>
                        {format.toUpperCase()}
                    </ButtonLink>
                ))}
                {(report.gate.lifted || !report.gate.open) && (
                    <span className="text-soft">Each says that the data is not fit, and why the cover was lifted.</span>
                )}
            </p>
        </div>
    );
}

/** What stands behind the figures: their course, visits, parts of the visitors, values. */
function Behind({ report, experiment }: { report: Readout; experiment: Experiment }) {
    const primary = report.goals[0];

    return (
        <>
            {report.course && primary && report.course.days.length > 1 && (
                <div className="mt-6">
                    <CourseFigure course={report.course} goal={primary} experiment={experiment} />
                </div>
            )}
            {(report.values ?? []).map((one) => (
                <Values
                    key={one.item}
                    values={one}
                    name={report.goals.find(({ key }) => key === one.item)?.name ?? one.item}
                    experiment={experiment}
                />
            ))}
            {report.segments && primary && (
                <section className="mt-6">
                    <h2 className="mb-1 text-lg font-semibold">Parts of the visitors, in “{primary.name}”</h2>
                    <Segments parts={report.segments} goal={primary} experiment={experiment} />
                </section>
            )}
            {report.visits.length > 0 && (
                <section className="mt-6">
                    <h2 className="text-lg font-semibold">Visits</h2>
                    <p className="text-sm text-soft">Measured of every visit, declared by nobody: they explain, and decide nothing.</p>
                    {report.visits.map((visit) => (
                        <div key={visit.key} className="mt-2 border-t border-line bg-leaf px-4 py-2">
                            <h3 className="font-semibold">{visit.name}</h3>
                            <GoalResults goal={visit} experiment={experiment} />
                        </div>
                    ))}
                </section>
            )}
        </>
    );
}

function askedOf(goal: Readout['goals'][number]): string {
    const size = (number: number): string =>
        goal.measure === 'rate' || (goal.measure === 'ratio' && !goal.key.startsWith('visit.'))
            ? `${Number((100 * number).toPrecision(4))} points`
            : `${Number(number.toPrecision(4))}${goal.currency ? ` ${goal.currency}` : ''}`;
    const said = [
        {
            rate: 'Compared by the part of the visitors who reach it',
            mean: 'Compared by what a visitor brings',
            ratio: 'Compared per session',
        }[goal.measure],
        ...(goal.worthwhile ? [`worth having from ${size(goal.worthwhile)} on`] : []),
        ...(goal.role === 'guardrail' ? [goal.margin ? `may get worse by ${size(goal.margin)} at most` : 'no margin was declared'] : []),
        ...(goal.lower_is_better ? ['less is better'] : []),
        ...(goal.cap ? [`a visitor’s value above ${size(goal.cap)} counts as that`] : []),
    ];

    return `${said.join('; ')}.`;
}

import { Link, useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { useStory } from '../api/measures';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Waiting } from '../parts/Waiting';

type Story = Schemas['EventStory'];
type Condition = Schemas['SeenCondition'];

const VERDICT_WORDS: Record<Schemas['Conformance'], string> = {
    conforms: 'It keeps to the tracking plan.',
    lacks: 'It lacks what the plan requires.',
    'wrong-type': 'It has something that the plan does not allow.',
    unplanned: 'The tracking plan does not know this event.',
};

/** Everything that can be told of one event: session, assignment, conformance, and each rule that looked at it. */
export function StoryPanel({ event, query }: { event: string; query: string }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const story = useStory(site, event);

    return (
        <section aria-label="Event" className="min-w-0 border border-line bg-leaf p-4">
            <div className="mb-2 flex items-center gap-3">
                <h2 className="min-w-0 truncate font-mono text-sm font-semibold">{event}</h2>
                <Button className="ml-auto" onClick={() => navigate(address.feed(site) + query)}>
                    Close
                </Button>
            </div>
            <Waiting query={story}>{(known) => <Told story={known} />}</Waiting>
        </section>
    );
}

function Told({ story }: { story: Story }) {
    const site = useSiteKey();
    const visitor = String(story.event.visitor);

    return (
        <div className="space-y-3">
            <p>
                {VERDICT_WORDS[story.conformance.verdict]}
                {story.conformance.mistakes.map((one) => (
                    <span key={one.property + one.message} className="block text-broken">
                        <span className="font-mono text-sm">{one.property}</span> {one.message}
                    </span>
                ))}
            </p>
            <p>
                Event {story.session.place} of {story.session.events} in session {story.session.number} of {story.session.of}, from{' '}
                <Moment at={story.session.begin} seconds /> to <Moment at={story.session.end} seconds />.{' '}
                <Link
                    to={`${address.feed(site)}?visitor=${encodeURIComponent(visitor)}`}
                    className="text-accent underline underline-offset-4"
                >
                    All of this visitor
                </Link>
            </p>
            <p>
                {story.assignments.length === 0 && 'The visitor was in no experiment at that moment.'}
                {story.assignments.map((one) => (
                    <span key={one.experiment} className="block">
                        In <span className="font-mono text-sm">{one.experiment}</span> as{' '}
                        <span className="font-mono text-sm">{one.variant}</span> since <Moment at={one.since} seconds />
                        {one.several && <span className="text-broken">, and seen in another variant too</span>}
                    </span>
                ))}
            </p>
            <h3 className="font-semibold">Goals</h3>
            <div>
                {[...story.goals]
                    .sort((a, b) => closeness(b) - closeness(a))
                    .map((goal) => (
                        <details key={goal.key} data-trace={goal.key} data-hit={goal.hit} open={goal.hit || closeness(goal) > 1}>
                            <summary>
                                <Mark on={goal.hit} /> {goal.name}:{' '}
                                {goal.hit ? 'this event made a hit' : goal.matched ? 'a step of it, but no hit' : 'no hit'}
                            </summary>
                            {goal.steps.map((step) => (
                                <div key={step.step} className="mb-1 pl-5">
                                    {goal.steps.length > 1 && <span className="text-sm text-soft">Step {step.step}</span>}
                                    <Conditions conditions={step.conditions} />
                                </div>
                            ))}
                        </details>
                    ))}
            </div>
            {story.triggers.length > 0 && (
                <>
                    <h3 className="font-semibold">Triggers</h3>
                    <div>
                        {story.triggers.map((one, i) => (
                            <details key={i} open={one.matched === true}>
                                <summary>
                                    <Mark on={one.matched === true} /> {one.what}, {one.kind}:{' '}
                                    {one.matched === null ? 'no record can tell' : one.matched ? 'it fires' : 'it does not fire'}
                                </summary>
                                <div className="pl-5">
                                    <Conditions conditions={one.conditions} />
                                </div>
                            </details>
                        ))}
                    </div>
                </>
            )}
            <h3 className="font-semibold">As it came</h3>
            <pre className="overflow-x-auto border-l-3 border-line pl-3 font-mono text-sm" tabIndex={0} aria-label="The event as JSON">
                {JSON.stringify(story.event, null, 2)}
            </pre>
        </div>
    );
}

/** How far an event got with a goal: what almost matched is worth showing. */
function closeness(goal: Story['goals'][number]): number {
    return goal.hit
        ? 1000
        : Math.max(0, ...goal.steps.map((step) => step.conditions.filter((one) => one.holds).length * (step.conditions[0]?.holds ? 2 : 0)));
}

function Mark({ on }: { on: boolean }) {
    return <span className={on ? 'font-semibold text-holds' : 'text-soft'}>{on ? '✓' : '–'}</span>;
}

function Conditions({ conditions }: { conditions: Condition[] }) {
    return (
        <ul className="text-sm">
            {conditions.map((one, i) => (
                <li key={i} className="break-all">
                    <span className={one.holds ? 'text-holds' : 'text-broken'}>{one.holds ? '✓' : '✕'}</span>{' '}
                    <span className="font-mono">
                        {one.fact} {one.op} {text(one.value)}
                    </span>
                    {!one.holds && (
                        <>
                            {' '}
                            but was <span className="font-mono">{text(one.seen)}</span>
                        </>
                    )}
                </li>
            ))}
        </ul>
    );
}

function text(value: unknown): string {
    return value === null || value === undefined ? 'nothing' : typeof value === 'string' ? `“${value}”` : JSON.stringify(value);
}

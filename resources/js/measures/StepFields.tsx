import { TextField } from '../parts/Field';
import { RuleBuilder } from '../parts/RuleBuilder';
import { ADDRESS_FACTS, EVENT_FACTS } from '../parts/ruleRows';
import type { GoalStep } from './goalWords';

interface Props {
    step: GoalStep;
    hosts: string[];
    errors: Record<string, string>;
    /** Where the step stands in the goal: '' for a goal of one step. */
    path: string;
    onChange: (step: GoalStep) => void;
}

/** What one thing has to be like to count. */
export function StepFields({ step, hosts, errors, path, onChange }: Props) {
    const at = (field: string): string => (path ? `${path}.${field}` : field);
    const amount = step.kind === 'engaged' ? 'seconds' : 'percent';

    return (
        <div className="space-y-3">
            {(step.kind === 'click' || step.kind === 'form' || step.kind === 'seen') && (
                <TextField
                    label={
                        { click: 'Element (CSS selector)', form: 'Form (CSS selector)', seen: 'Part of the page (CSS selector)' }[step.kind]
                    }
                    note={
                        step.kind === 'seen'
                            ? 'Counts once a page view, where half of it was in the window for a second. Recorded from the next publication on.'
                            : 'Element names, #id, .class, spaces and >: what recorded clicks can be told by.'
                    }
                    className="font-mono text-sm"
                    value={step.selector ?? ''}
                    error={errors[at('selector')]}
                    onChange={(e) => onChange({ ...step, selector: e.target.value })}
                />
            )}
            {step.kind === 'event' && (
                <TextField
                    label="Event name"
                    className="font-mono text-sm"
                    value={step.event ?? ''}
                    error={errors[at('event')]}
                    onChange={(e) => onChange({ ...step, event: e.target.value })}
                />
            )}
            {(step.kind === 'engaged' || step.kind === 'scroll') && (
                <TextField
                    label={step.kind === 'engaged' ? 'Seconds at least' : 'Percent of the page at least'}
                    inputMode="numeric"
                    className="max-w-28"
                    value={String(step[amount] ?? '')}
                    error={errors[at(amount)]}
                    onChange={(e) => onChange({ ...step, [amount]: Number(e.target.value.replace(/\D/g, '')) })}
                />
            )}
            {(step.kind === 'event' || step.kind === 'order') && (
                <RuleBuilder
                    label="Only if"
                    rule={step.when ?? { all: [] }}
                    facts={['event.props.', ...EVENT_FACTS]}
                    hosts={hosts}
                    errors={errors}
                    path={at('when')}
                    onChange={(when) => onChange({ ...step, when })}
                />
            )}
            <RuleBuilder
                label={step.kind === 'page' ? 'The page' : 'On pages'}
                rule={step.pages ?? { all: [] }}
                facts={ADDRESS_FACTS}
                hosts={hosts}
                errors={errors}
                path={at('pages')}
                onChange={(pages) => onChange({ ...step, pages })}
            />
        </div>
    );
}

import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { ADDRESS_FACTS, EVENT_FACTS, PUSH_FACTS } from '../parts/ruleRows';
import { RuleBuilder } from '../parts/RuleBuilder';
import { TRIGGER_KINDS } from '../parts/vocabulary';
import { newTrigger, type Trigger } from './tagWords';

interface Props {
    trigger: Trigger;
    number: number;
    hosts: string[];
    errors: Record<string, string>;
    path: string;
    onChange: (trigger: Trigger) => void;
}

/** What makes a tag fire, or an experiment start. */
export function TriggerFields({ trigger, number, hosts, errors, path, onChange }: Props) {
    const amount = trigger.kind === 'time' ? 'seconds' : 'percent';

    return (
        <div className="space-y-2">
            <div className="flex flex-wrap items-end gap-3">
                <div className="w-52">
                    <Choice
                        label={`Trigger ${number}: what happens`}
                        value={trigger.kind}
                        options={Object.entries(TRIGGER_KINDS).map(([value, label]) => ({ value: value as Trigger['kind'], label }))}
                        onChange={(kind) => onChange(newTrigger(kind, trigger))}
                    />
                </div>
                {trigger.kind === 'event' && (
                    <TextField
                        label="Event name"
                        className="font-mono text-sm"
                        value={trigger.name ?? ''}
                        error={errors[`${path}.name`]}
                        onChange={(event) => onChange({ ...trigger, name: event.target.value })}
                    />
                )}
                {(trigger.kind === 'click' || trigger.kind === 'form' || trigger.kind === 'element') && (
                    <TextField
                        label={trigger.kind === 'form' ? 'Forms (CSS selector)' : 'Elements (CSS selector)'}
                        className="font-mono text-sm"
                        value={trigger.selector ?? ''}
                        error={errors[`${path}.selector`]}
                        onChange={(event) => onChange({ ...trigger, selector: event.target.value })}
                    />
                )}
                {(trigger.kind === 'time' || trigger.kind === 'scroll') && (
                    <TextField
                        label={trigger.kind === 'time' ? 'Seconds' : 'Percent of the page'}
                        inputMode="numeric"
                        className="max-w-28"
                        value={String(trigger[amount] ?? '')}
                        error={errors[`${path}.${amount}`]}
                        onChange={(event) => onChange({ ...trigger, [amount]: Number(event.target.value.replace(/\D/g, '')) })}
                    />
                )}
            </div>
            {trigger.kind === 'data' && (
                <RuleBuilder
                    label="What is pushed"
                    rule={trigger.when ?? { all: [] }}
                    facts={PUSH_FACTS}
                    hosts={hosts}
                    errors={errors}
                    path={`${path}.when`}
                    onChange={(when) => onChange({ ...trigger, when })}
                />
            )}
            {trigger.kind === 'event' && (
                <RuleBuilder
                    label="Only if"
                    rule={trigger.when ?? { all: [] }}
                    facts={EVENT_FACTS}
                    hosts={hosts}
                    errors={errors}
                    path={`${path}.when`}
                    onChange={(when) => onChange({ ...trigger, when })}
                />
            )}
            <RuleBuilder
                label="On pages"
                rule={trigger.pages ?? { all: [] }}
                facts={ADDRESS_FACTS}
                hosts={hosts}
                errors={errors}
                path={`${path}.pages`}
                onChange={(pages) => onChange({ ...trigger, pages })}
            />
        </div>
    );
}

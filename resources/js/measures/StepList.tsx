import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { Tick } from '../parts/RuleBuilder';
import { fieldsOf, STEP_KINDS, type GoalStep } from './goalWords';
import { StepFields } from './StepFields';

interface Props {
    steps: GoalStep[];
    within?: number;
    hosts: string[];
    errors: Record<string, string>;
    onChange: (steps: GoalStep[], within?: number) => void;
}

/** The steps of a sequence, in their order. */
export function StepList({ steps, within, hosts, errors, onChange }: Props) {
    const set = (at: number, step: GoalStep): void =>
        onChange(
            steps.map((one, i) => (i === at ? step : one)),
            within,
        );

    return (
        <div className="space-y-3">
            {steps.map((step, i) => (
                <fieldset key={i} className="border border-line bg-leaf p-3">
                    <legend className="sr-only">Step {i + 1}</legend>
                    <div className="mb-2 flex flex-wrap items-center gap-3">
                        <h2 className="font-semibold">{i === 0 ? 'First' : 'Then'}</h2>
                        <div className="w-64">
                            <Choice<GoalStep['kind']>
                                label={`Step ${i + 1}: what counts`}
                                value={step.kind}
                                options={Object.entries(STEP_KINDS).map(([value, label]) => ({ value: value as GoalStep['kind'], label }))}
                                onChange={(kind) =>
                                    set(i, { ...fieldsOf(kind, step), kind, optional: step.optional, count: undefined } as GoalStep)
                                }
                            />
                        </div>
                        <Tick
                            label="may be left out"
                            on={step.optional ?? false}
                            onChange={() => set(i, { ...step, optional: !step.optional })}
                        />
                        {steps.length > 2 && (
                            <Button
                                className="ml-auto"
                                onClick={() =>
                                    onChange(
                                        steps.filter((_, j) => j !== i),
                                        within,
                                    )
                                }
                            >
                                Remove step {i + 1}
                            </Button>
                        )}
                    </div>
                    <StepFields step={step} hosts={hosts} errors={errors} path={`steps.${i}`} onChange={(next) => set(i, next)} />
                </fieldset>
            ))}
            {errors.steps && (
                <p role="alert" className="text-broken">
                    {errors.steps}
                </p>
            )}
            <div className="flex flex-wrap items-end gap-4">
                <Button onClick={() => onChange([...steps, { kind: 'page', pages: { fact: 'url.path', op: 'is', value: '' } }], within)}>
                    Add a step
                </Button>
                <TextField
                    label="Within minutes"
                    note="Empty: any time."
                    inputMode="numeric"
                    className="max-w-28"
                    value={within === undefined ? '' : String(within / 60)}
                    error={errors.within}
                    onChange={(e) => {
                        const minutes = Number(e.target.value.replace(/\D/g, ''));
                        onChange(steps, minutes > 0 ? minutes * 60 : undefined);
                    }}
                />
            </div>
        </div>
    );
}

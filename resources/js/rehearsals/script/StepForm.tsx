import type { ReactNode } from 'react';
import type { Experiment } from '../../api/client';
import type { RehearsalReport } from '../../api/rehearsals';
import { Choice } from '../../parts/Choice';
import { TextField } from '../../parts/Field';
import { Tick } from '../../parts/RuleBuilder';
import { ElementPicker } from './ElementPicker';
import { aimedAt, aimOf, aimsOf, KINDS, turnedTo, withMember, type ScriptStep } from './steps';

interface Props {
    site: string;
    experiment: Experiment;
    report: RehearsalReport | undefined;
    number: number;
    step: ScriptStep;
    errors: Record<string, string>;
    onChange: (step: ScriptStep) => void;
}

/** One step of a script: what is done or expected, and what that takes. */
export function StepForm({ site, experiment, report, number, step, errors, onChange }: Props) {
    const set = (name: string, value: unknown): void => onChange(withMember(step, name, value));
    const text = (name: string, label: string, needed = true): ReactNode => (
        <TextField
            label={label}
            error={errors[name]}
            className="font-mono text-sm"
            value={String(step[name] ?? '')}
            onChange={(event) => set(name, event.target.value === '' && !needed ? undefined : event.target.value)}
        />
    );
    const amount = (name: string, label: string): ReactNode => (
        <TextField
            label={label}
            error={errors[name]}
            type="number"
            value={String(step[name] ?? '')}
            onChange={(event) => set(name, event.target.value === '' ? undefined : Number(event.target.value))}
        />
    );
    const element = (label = 'Element'): ReactNode => (
        <div className="space-y-1">
            {text('element', label)}
            <ElementPicker site={site} report={report} step={number} onPick={(selector) => set('element', selector)} />
        </div>
    );
    const aim = aimOf(step);

    return (
        <div className="space-y-2">
            <Choice label={`Step ${number}`} value={step.do} options={KINDS} onChange={(kind) => onChange(turnedTo(kind, step))} />
            {errors.do && (
                <p role="alert" className="text-sm text-broken">
                    {errors.do}
                </p>
            )}
            {(step.do === 'open' || step.do === 'follow') && text('path', 'Path or address')}
            {(step.do === 'click' || step.do === 'hover' || step.do === 'submit') && element(step.do === 'submit' ? 'Form' : 'Element')}
            {(step.do === 'type' || step.do === 'choose') && (
                <>
                    {element('Field')}
                    {text('value', step.do === 'type' ? 'Text, such as {name} or {mail}' : 'Choice')}
                </>
            )}
            {step.do === 'scroll' && amount('percent', 'Per cent of the page')}
            {step.do === 'consent' && (
                <div className="space-y-1">
                    {['statistics', 'marketing'].map((one) => {
                        const given = (step.categories as string[] | undefined) ?? [];

                        return (
                            <Tick
                                key={one}
                                label={one}
                                on={given.includes(one)}
                                onChange={() =>
                                    set('categories', given.includes(one) ? given.filter((other) => other !== one) : [...given, one])
                                }
                            />
                        );
                    })}
                </div>
            )}
            {(step.do === 'wait' || step.do === 'expect') && (
                <>
                    <Choice
                        label={`Step ${number}: of what`}
                        value={aim}
                        options={aimsOf(step.do)}
                        onChange={(next) => onChange(aimedAt(next, step))}
                    />
                    {aim === 'element' && element()}
                    {aim === 'seconds' && amount('seconds', 'Seconds')}
                    {aim === 'goal' && (
                        <Choice
                            label={`Step ${number}: goal`}
                            value={String(step.goal ?? '')}
                            options={[
                                { value: '', label: 'Choose a goal' },
                                ...experiment.goals.map(({ key, name }) => ({ value: key, label: name })),
                            ]}
                            onChange={(key) => set('goal', key)}
                        />
                    )}
                    {aim === 'goal' && errors.goal && (
                        <p role="alert" className="text-sm text-broken">
                            {errors.goal}
                        </p>
                    )}
                    {(aim === 'address' || aim === 'cookie' || aim === 'event' || aim === 'tag') && text(aim, `Name of the ${aim}`)}
                    {step.do === 'expect' &&
                        aim === 'element' &&
                        step.style === undefined &&
                        text('text', 'Its text, if that matters', false)}
                    {step.do === 'expect' && aim === 'element' && text('style', 'A style property, if that matters', false)}
                    {step.do === 'expect' && aim === 'element' && step.style !== undefined && text('value', 'Value of the style')}
                    {step.do === 'expect' && (aim === 'goal' || aim === 'event') && amount('times', 'How often, if that matters')}
                    {step.do === 'expect' && (
                        <Tick label="nothing of it" on={step.not === true} onChange={() => set('not', step.not !== true)} />
                    )}
                </>
            )}
        </div>
    );
}

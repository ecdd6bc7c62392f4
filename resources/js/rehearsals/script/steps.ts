import { RehearsalAim, RehearsalStep } from '../../../../docs/vocabulary.json';
import type { RehearsalScript } from '../../api/rehearsals';

/** A step as the form writes it: which members there are follows from what it does. */
export interface ScriptStep {
    do: keyof (typeof RehearsalStep)['x-words'];
    [member: string]: unknown;
}

export type AimName = keyof (typeof RehearsalAim)['x-words'];

export const KINDS = Object.entries(RehearsalStep['x-words']).map(([value, { label }]) => ({ value: value as ScriptStep['do'], label }));

/** What can be waited for, or expected. */
export function aimsOf(kind: 'wait' | 'expect'): { value: AimName; label: string }[] {
    return Object.entries(RehearsalAim['x-words'])
        .filter(([, { expected, awaited }]) => (kind === 'wait' ? awaited : expected))
        .map(([value, { label }]) => ({ value: value as AimName, label }));
}

const NAMES: AimName[] = ['seconds', 'address', 'cookie', 'event', 'goal', 'tag', 'element'];

export function aimOf(step: ScriptStep): AimName {
    return NAMES.find((name) => step[name] !== undefined) ?? 'element';
}

const TAKES: Partial<Record<ScriptStep['do'], string[]>> = {
    open: ['path'],
    follow: ['path', 'element'],
    click: ['element'],
    type: ['element', 'value'],
    choose: ['element', 'value'],
    submit: ['element'],
    scroll: ['percent'],
    hover: ['element'],
    wait: ['element', 'event', 'seconds'],
    consent: ['categories'],
    expect: ['element', 'text', 'style', 'value', 'address', 'cookie', 'event', 'props', 'goal', 'tag', 'times', 'not'],
};

const EMPTY: Record<string, unknown> = { path: '/', element: '', value: '', percent: 100, categories: ['statistics'] };

/** The same step doing something else: what the new deed takes as well is kept. */
export function turnedTo(kind: ScriptStep['do'], step: ScriptStep): ScriptStep {
    const takes = TAKES[kind] ?? [];
    const kept = Object.fromEntries(Object.entries(step).filter(([name]) => takes.includes(name) || name === 'variants'));
    const needs = kind === 'expect' || kind === 'wait' ? ['element'] : kind === 'follow' ? ['path'] : takes;

    return { ...Object.fromEntries(needs.map((name) => [name, EMPTY[name]])), ...kept, do: kind };
}

/** The same step with another thing that is waited for or expected. */
export function aimedAt(aim: AimName, step: ScriptStep): ScriptStep {
    return {
        do: step.do,
        [aim]: aim === 'seconds' ? 1 : '',
        ...(step.variants ? { variants: step.variants } : {}),
        ...(step.not ? { not: true } : {}),
    };
}

/** With a member set, or left out where it is empty. */
export function withMember(step: ScriptStep, name: string, value: unknown): ScriptStep {
    const rest = Object.fromEntries(Object.entries(step).filter(([one]) => one !== name)) as ScriptStep;

    return value === undefined || value === false ? rest : { ...rest, [name]: value };
}

export function stepsOf(script: RehearsalScript): ScriptStep[] {
    return script.steps as unknown as ScriptStep[];
}

export function scriptOf(steps: ScriptStep[]): RehearsalScript {
    return { pellix: 1, steps } as unknown as RehearsalScript;
}

/** `steps.1.element` of what the server refuses, for the step that it stands at. */
export function errorsAt(errors: Record<string, string[]>, step: number): Record<string, string> {
    const stem = `steps.${step}.`;

    return Object.fromEntries(
        Object.entries(errors)
            .filter(([field]) => field.startsWith(stem))
            .map(([field, [message]]) => [field.slice(stem.length).split('.')[0], message]),
    );
}

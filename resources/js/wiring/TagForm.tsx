import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { Problem, type Schemas } from '../api/client';
import { useSite } from '../api/queries';
import { useSaveTags } from '../api/wiring';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { CONSENTS, KINDS, newTrigger, ONCE, type Tag } from './tagWords';
import { TriggerFields } from './TriggerFields';

const CODE_LABELS: Record<Tag['kind'], string> = { script: 'JavaScript', html: 'HTML', image: 'Address of the image' };

/** Makes or changes one tag; nothing reaches a page before it is published. */
export function TagForm({ wiring, tag: key }: { wiring: Schemas['Wiring']; tag: string }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const save = useSaveTags(site);
    const hosts = useSite(site).data?.hosts ?? [];
    const at = wiring.tags.findIndex((tag) => tag.key === key);
    const [tag, setTag] = useState<Tag>(
        () =>
            wiring.tags[at] ?? {
                key: '',
                name: '',
                kind: 'script',
                code: '',
                consent: 'statistics',
                triggers: [newTrigger('page')],
                once: 'page',
            },
    );
    const [revision] = useState(wiring.revision);
    const problem = save.error instanceof Problem ? save.error : null;
    const place = at < 0 ? wiring.tags.length : at;
    const errors = Object.fromEntries(
        Object.entries(problem?.errors ?? {}).map(([field, messages]) => [field.replace(`tags.${place}.`, ''), messages[0]]),
    );
    const back = (): void => void navigate(address.tags(site));
    const keep = (tags: Tag[]): void => save.mutate({ revision, tags }, { onSuccess: back });
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        const full = { ...tag, key: tag.key || slug(tag.name), name: tag.name.trim() || tag.key };
        keep(at < 0 ? [...wiring.tags, full] : wiring.tags.map((one, i) => (i === at ? full : one)));
    };
    if (at < 0 && key !== 'new') {
        return <p>There is no tag “{key}” among those being worked on.</p>;
    }

    return (
        <form onSubmit={submit} noValidate className="max-w-4xl space-y-4">
            <h1 className="text-xl font-semibold">{at < 0 ? 'Make a tag' : `Change ${tag.name}`}</h1>
            <div className="grid gap-4 sm:grid-cols-2">
                <TextField
                    label="Tag name"
                    value={tag.name}
                    error={errors.name}
                    onChange={(e) => setTag({ ...tag, name: e.target.value })}
                />
                <TextField
                    label="Key"
                    className="font-mono text-sm"
                    note={at < 0 ? 'Made from the name where it is left out.' : 'It cannot be changed any more.'}
                    disabled={at >= 0}
                    value={tag.key}
                    placeholder={slug(tag.name)}
                    error={errors.key}
                    onChange={(e) => setTag({ ...tag, key: e.target.value })}
                />
            </div>
            <div className="grid gap-4 sm:grid-cols-4">
                <Choice label="Kind" value={tag.kind} options={choices(KINDS)} onChange={(kind) => setTag({ ...tag, kind })} />
                <Choice label="How often" value={tag.once} options={choices(ONCE)} onChange={(once) => setTag({ ...tag, once })} />
                <Choice
                    label="Consent"
                    value={tag.consent}
                    options={choices(CONSENTS)}
                    onChange={(consent) => setTag({ ...tag, consent })}
                />
                <Choice
                    label="Order"
                    value={tag.after ?? ''}
                    options={[
                        { value: '', label: 'waits for no tag' },
                        ...wiring.tags.filter((one) => one.key !== tag.key).map((one) => ({ value: one.key, label: `after ${one.key}` })),
                    ]}
                    onChange={(after) => setTag({ ...tag, after: after || undefined })}
                />
            </div>
            {errors.after && <p className="text-broken">{errors.after}</p>}
            <TextArea
                label={CODE_LABELS[tag.kind]}
                rows={tag.kind === 'image' ? 2 : 8}
                className="font-mono text-sm"
                spellCheck={false}
                value={tag.code}
                error={errors.code}
                onChange={(e) => setTag({ ...tag, code: e.target.value })}
            />
            {tag.triggers.map((trigger, i) => (
                <fieldset key={i} className="border-t border-line pt-3">
                    <legend className="sr-only">Trigger {i + 1}</legend>
                    <div className="mb-1 flex items-baseline justify-between">
                        <h2 className="font-semibold">{i === 0 ? 'Fires when' : 'Or when'}</h2>
                        {tag.triggers.length > 1 && (
                            <Button onClick={() => setTag({ ...tag, triggers: tag.triggers.filter((_, j) => j !== i) })}>
                                Remove trigger {i + 1}
                            </Button>
                        )}
                    </div>
                    <TriggerFields
                        trigger={trigger}
                        number={i + 1}
                        hosts={hosts}
                        errors={errors}
                        path={`triggers.${i}`}
                        onChange={(next) => setTag({ ...tag, triggers: tag.triggers.map((one, j) => (j === i ? next : one)) })}
                    />
                </fieldset>
            ))}
            <Button onClick={() => setTag({ ...tag, triggers: [...tag.triggers, newTrigger('event')] })}>Add a trigger</Button>
            <div className="sticky bottom-0 flex flex-wrap items-center gap-4 border-t border-line bg-ground py-3">
                <Button type="submit" look="main" disabled={save.isPending}>
                    Keep the tag
                </Button>
                <Button onClick={back}>Cancel</Button>
                {at >= 0 && (
                    <Button look="danger" onClick={() => keep(wiring.tags.filter((_, i) => i !== at))}>
                        Take it out
                    </Button>
                )}
                {problem && (
                    <span role="alert" className="text-broken">
                        {Object.values(errors)[0] ?? problem.message}
                    </span>
                )}
            </div>
        </form>
    );
}

function choices<T extends string>(words: Record<T, string>): { value: T; label: string }[] {
    return (Object.entries(words) as [T, string][]).map(([value, label]) => ({ value, label }));
}

/** The key for a name; “new” is taken by the address of this form. */
function slug(name: string): string {
    const key = name
        .toLowerCase()
        .normalize('NFKD')
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, '')
        .slice(0, 60);

    return key === 'new' ? 'new-tag' : key;
}

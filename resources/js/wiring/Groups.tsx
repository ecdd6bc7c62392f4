import type { FormEvent } from 'react';
import type { Schemas } from '../api/client';
import { useSite } from '../api/queries';
import { useGroups, useSaveGroups } from '../api/wiring';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { RuleBuilder, Tick } from '../parts/RuleBuilder';
import { ADDRESS_FACTS } from '../parts/ruleRows';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { WiringTabs } from './WiringTabs';

type Group = Schemas['PageGroup'];

const EMPTY: Group = {
    name: '',
    pages: { fact: 'url.path', op: 'starts', value: '' },
    snippet: true,
    guard: null,
    unlinked: false,
    tags: [],
};

/** The groups that pages are sorted into, and what must stand on the pages of each. */
export function Groups() {
    const groups = useGroups(useSiteKey());

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <h1 className="text-xl font-semibold">What must stand where</h1>
            <p className="mt-1 mb-4 max-w-3xl">
                Each page belongs to the first of these groups whose rule matches its address. A page in none of them must have the snippet,
                and nothing else.
            </p>
            <Waiting query={groups}>{(known) => <Form known={known} />}</Waiting>
        </div>
    );
}

function Form({ known }: { known: Group[] }) {
    const site = useSiteKey();
    const hosts = useSite(site).data?.hosts ?? [];
    const save = useSaveGroups(site);
    const form = useDraft<Group[]>(known, save, (groups) => ({ groups }));
    const { draft: groups, errors, put } = form;
    const set = (at: number, change: Partial<Group>): void =>
        put(
            groups.map((one, i) => (i === at ? { ...one, ...change } : one)),
            `${at} ${Object.keys(change).join()}`,
        );
    const swap = (at: number): void => put(groups.map((one, i) => (i === at - 1 ? groups[at] : i === at ? groups[at - 1] : one)));
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(
            groups.map((group) => ({ ...group, fault: undefined })),
            { onSuccess: () => form.kept() },
        );
    };

    return (
        <form onSubmit={submit} noValidate className="max-w-4xl space-y-4">
            {groups.map((group, i) => (
                <fieldset key={i} className="border border-line bg-leaf p-4">
                    <legend className="sr-only">Group {i + 1}</legend>
                    {group.fault && (
                        <p className="mb-3 text-broken">This group can no longer be read, and no page belongs to it: {group.fault}</p>
                    )}
                    <div className="space-y-3">
                        <div className="flex flex-wrap items-end gap-3">
                            <div className="min-w-64 flex-1">
                                <TextField
                                    label={`Name of group ${i + 1}`}
                                    value={group.name}
                                    error={errors[`groups.${i}.name`]}
                                    onChange={(e) => set(i, { name: e.target.value })}
                                />
                            </div>
                            <Button disabled={i === 0} onClick={() => swap(i)}>
                                Ask earlier
                            </Button>
                            <Button onClick={() => put(groups.filter((_, j) => j !== i))}>Remove group {i + 1}</Button>
                        </div>
                        <RuleBuilder
                            label="Pages"
                            rule={group.pages}
                            facts={ADDRESS_FACTS}
                            hosts={hosts}
                            errors={errors}
                            path={`groups.${i}.pages`}
                            onChange={(pages) => set(i, { pages })}
                        />
                        <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
                            <Tick
                                label="the snippet must stand there"
                                on={group.snippet}
                                onChange={() => set(i, { snippet: !group.snippet })}
                            />
                            <div className="w-72">
                                <Choice
                                    label="Flicker guard"
                                    value={String(group.guard)}
                                    options={[
                                        { value: 'null', label: 'a flicker guard does not matter' },
                                        { value: 'true', label: 'a flicker guard must stand there' },
                                        { value: 'false', label: 'no flicker guard is needed there' },
                                    ]}
                                    onChange={(guard) => set(i, { guard: guard === 'null' ? null : guard === 'true' })}
                                />
                            </div>
                            <Tick
                                label="a redirect variant’s pages: nothing may lead there"
                                on={group.unlinked}
                                onChange={() => set(i, { unlinked: !group.unlinked })}
                            />
                        </div>
                        {group.tags.map((tag, j) => (
                            <div key={j} className="flex flex-wrap items-end gap-2">
                                <TextField
                                    label={`Tag ${j + 1}: key`}
                                    className="font-mono text-sm"
                                    value={tag.key}
                                    error={errors[`groups.${i}.tags.${j}.key`]}
                                    onChange={(e) =>
                                        set(i, { tags: group.tags.map((one, k) => (k === j ? { ...one, key: e.target.value } : one)) })
                                    }
                                />
                                <div className="min-w-56 flex-1">
                                    <TextField
                                        label="known by (part of its text or address)"
                                        className="font-mono text-sm"
                                        value={tag.contains}
                                        error={errors[`groups.${i}.tags.${j}.contains`]}
                                        onChange={(e) =>
                                            set(i, {
                                                tags: group.tags.map((one, k) => (k === j ? { ...one, contains: e.target.value } : one)),
                                            })
                                        }
                                    />
                                </div>
                                <TextField
                                    label="after tag"
                                    className="font-mono text-sm"
                                    value={tag.after ?? ''}
                                    error={errors[`groups.${i}.tags.${j}.after`]}
                                    onChange={(e) =>
                                        set(i, {
                                            tags: group.tags.map((one, k) =>
                                                k === j ? { ...one, after: e.target.value || undefined } : one,
                                            ),
                                        })
                                    }
                                />
                                <Button onClick={() => set(i, { tags: group.tags.filter((_, k) => k !== j) })}>Remove</Button>
                            </div>
                        ))}
                        <Button onClick={() => set(i, { tags: [...group.tags, { key: '', contains: '' }] })}>
                            Add a tag that must stand there
                        </Button>
                    </div>
                </fieldset>
            ))}
            <Button onClick={() => put([...groups, EMPTY])}>Add a group</Button>
            <FormFoot form={form} submit="Keep the groups" saved="Kept. The pages are sorted anew; inspect them to see how they stand." />
        </form>
    );
}

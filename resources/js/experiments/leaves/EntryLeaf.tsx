import { Choice } from '../../parts/Choice';
import { TextField } from '../../parts/Field';
import { useExperiments } from '../../api/queries';
import { AudienceField } from '../AudienceField';
import { number } from '../draft';
import { AdviceList, adviceOn } from '../known/AdviceList';
import { VisitorsReached } from '../known/ReachView';
import { Tester } from '../known/Tester';
import { Row } from '../links/Row';
import type { LeafSides } from './Editor';

/** Entry: who may enter, how many of them, and by what they are told apart; beside it, who would. */
export function EntryLeaf({ site, editor: { draft, set, errors }, reach, advice, hasStarted }: LeafSides) {
    const known = useExperiments(site.key).data ?? [];
    const groups = [...new Set(known.flatMap((one) => one.group?.key ?? []))].sort();

    return (
        <>
            <Row
                declared={
                    <div className="space-y-2 py-1">
                        <AudienceField site={site} audience={draft.audience} errors={errors} onChange={(audience) => set({ audience })} />
                    </div>
                }
                observed={
                    <>
                        <VisitorsReached reach={reach} share={number(draft.share) / 100} />
                        <Tester pages={draft.pages} audience={draft.audience} example={reach.result?.matching[0] ?? ''} />
                    </>
                }
            />
            <Row
                declared={
                    <div className="flex flex-wrap items-start gap-4 py-1">
                        <TextField
                            label="Share in percent"
                            inputMode="decimal"
                            className="max-w-28"
                            value={draft.share}
                            error={errors.share}
                            onChange={(event) => set({ share: event.target.value })}
                        />
                        {!hasStarted && (
                            <TextField
                                label="Group"
                                placeholder="none"
                                className="max-w-44"
                                value={draft.group}
                                error={errors['group.key'] ?? errors.group}
                                onChange={(event) => set({ group: event.target.value })}
                            />
                        )}
                    </div>
                }
                observed={
                    <div className="py-1 text-sm text-soft">
                        <p>The others see the page as it is and are not counted.</p>
                        {draft.group && (
                            <p>
                                Nobody is in two experiments of one group: each has its own part of all visitors, as large as its share.
                                {groups.length > 0 && ` Groups of this site: ${groups.join(', ')}.`}
                            </p>
                        )}
                        <AdviceList advice={adviceOn(advice.result?.advice ?? [], 'share', 'group')} />
                    </div>
                }
            />
            <Row
                last
                declared={
                    hasStarted ? (
                        <p className="py-1">By {draft.unit === 'user' ? 'signed-in user' : 'visitor'}; that stays.</p>
                    ) : (
                        <div className="w-64 py-1">
                            <Choice
                                label="What is assigned"
                                value={draft.unit}
                                options={[
                                    { value: 'visitor', label: 'each visitor' },
                                    { value: 'user', label: 'each signed-in user' },
                                ]}
                                onChange={(unit) => set({ unit })}
                            />
                        </div>
                    )
                }
                observed={
                    <p className="py-1 text-sm text-soft">
                        {draft.unit === 'user'
                            ? "Whoever has not signed in is not in the experiment: the site names users with pellix('user', id), and what happens before that is not counted."
                            : 'A visitor is a browser on one device: whoever comes with two is two.'}
                    </p>
                }
            />
        </>
    );
}

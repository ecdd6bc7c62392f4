import { Choice } from '../../parts/Choice';
import { asPathRule } from '../../parts/rules';
import { newTrigger } from '../../wiring/tagWords';
import { TriggerFields } from '../../wiring/TriggerFields';
import type { Draft } from '../draft';
import { AdviceList, adviceOn } from '../known/AdviceList';
import { PagesReached } from '../known/ReachView';
import { Row } from '../links/Row';
import { PagesField } from '../PagesField';
import type { LeafSides } from './Editor';

/** Page: for which pages, what it does there, and when it starts; beside it, what that matches. */
export function PageLeaf({ site, editor: { draft, set, errors }, reach, advice, hasStarted }: LeafSides) {
    return (
        <>
            <Row
                declared={
                    <div className="space-y-2 py-1">
                        {!hasStarted && (
                            <div className="w-80">
                                <Choice
                                    label="Kind"
                                    value={draft.kind}
                                    options={[
                                        { value: 'in_page', label: 'changes on the page itself' },
                                        { value: 'redirect', label: 'sends visitors to another page' },
                                    ]}
                                    onChange={(kind) => set({ kind, ...(kind === 'redirect' ? { trigger: null } : {}) })}
                                />
                            </div>
                        )}
                        <PagesField site={site} pages={draft.pages} errors={errors} onChange={(pages) => set({ pages })} />
                    </div>
                }
                observed={
                    <>
                        <PagesReached reach={reach} />
                        <AdviceList advice={adviceOn(advice.result?.advice ?? [], 'pages')} />
                    </>
                }
            />
            <Row
                last
                declared={
                    draft.kind === 'redirect' ? (
                        <p className="py-1">It starts as soon as the page is opened: nobody should see a page that is about to be left.</p>
                    ) : (
                        <div className="space-y-2 py-1">
                            <div className="w-80">
                                <Choice
                                    label="Starts"
                                    value={!draft.trigger ? 'view' : draft.trigger.kind === 'element' ? 'element' : 'trigger'}
                                    options={[
                                        { value: 'view', label: 'starts as soon as the page is opened' },
                                        { value: 'element', label: 'starts wherever an element is' },
                                        { value: 'trigger', label: 'starts when something happens on it' },
                                    ]}
                                    onChange={(start) => set(startOf(start, draft.pages))}
                                />
                            </div>
                            {draft.trigger && (
                                <TriggerFields
                                    trigger={draft.trigger}
                                    number={1}
                                    hosts={site.hosts}
                                    errors={errors}
                                    path="trigger"
                                    onChange={(trigger) => set({ trigger })}
                                />
                            )}
                        </div>
                    )
                }
                observed={<Start draft={draft} />}
            />
        </>
    );
}

function Start({ draft }: { draft: Draft }) {
    if (draft.kind === 'redirect') {
        return <p className="py-1 text-sm text-soft">Until it is decided, the flicker guard hides the page.</p>;
    }

    return (
        <p className="py-1 text-sm text-soft">
            {!draft.trigger
                ? 'Every visitor of the page enters, whether they scroll or stay.'
                : draft.trigger.kind === 'element'
                  ? 'Only pages that have the element count: for headers, menus and footers that stand on many pages.'
                  : 'Visitors of the page with whom this does not happen are not in the experiment, in no variant.'}
        </p>
    );
}

/** An element that is on many pages, such as a menu, starts an experiment on any of them, where no page is named. */
function startOf(start: 'view' | 'element' | 'trigger', pages: Draft['pages']): Partial<Draft> {
    if (start === 'view') {
        return { trigger: null };
    }

    return start === 'trigger'
        ? { trigger: newTrigger('event') }
        : { trigger: newTrigger('element'), ...(asPathRule(pages)?.value === '' ? { pages: { all: [] } } : {}) };
}

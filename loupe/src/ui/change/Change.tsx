import { useCallback, useEffect, useRef, useState } from 'react';
import type { Opening } from '../../answers';
import type { Draft } from '../../change/Draft';
import { editInPlace } from '../../change/inplace';
import { isAbout, replaced, shown, withChange, without, type Change as Changing } from '../../change/list';
import { markup } from '../../change/markup';
import type { Spot } from '../../change/place';
import { found, changeWords } from '../../look/changes';
import { entryOf } from '../../look/entry';
import { proposals } from '../../point/selectors';
import type { Running } from '../../preview/run';
import { Outline } from '../Outline';
import { ChangeForm } from './ChangeForm';
import { GoalForm } from './GoalForm';
import { Chosen, type Act } from './Chosen';
import { Pointer } from './Pointer';
import { Steps } from './Steps';
import { Styles } from './Styles';
import { useSayings } from './useSayings';

interface Props {
    opening: Opening;
    draft: Draft;
    token: string;
    running: Running | null;
    page: Document;
    isPointing: boolean;
    onPointing: (is: boolean) => void;
    onWithout: (is: boolean) => void;
    /** While somebody types on the page, nothing there is made anew. */
    onTyping: (is: boolean) => void;
}

interface Form {
    change: Changing;
    title: string;
    /** Its place in the list; null for one that is new. */
    at: number | null;
}

/** Pointing at the page and changing it there: each step is kept in the draft at once. */
export function Change({ opening, draft, token, running, page, isPointing, onPointing, onWithout, onTyping }: Props) {
    const [chosen, setChosen] = useState<{ element: Element; selector: string } | null>(null);
    const [form, setForm] = useState<Form | null>(null);
    const [isStyling, setIsStyling] = useState(false);
    const [isGoal, setIsGoal] = useState(false);
    const [isPlacing, setIsPlacing] = useState(false);
    const [outlined, setOutlined] = useState<Element[]>([]);
    const [media, setMedia] = useState<string>();
    const [said, setSaid] = useState('');
    const editing = useRef<(() => void) | null>(null);
    const sayings = useSayings(draft, running, page, opening);
    const made = shown(draft.list, draft.kept.problems, draft.kept.changes);
    // Made anew by a change, or by the page: another element, found by the same selector.
    const element = chosen && (chosen.element.isConnected ? chosen.element : (found(chosen.selector, page)[0] ?? null));
    const add = (change: Changing): void => draft.set(withChange(draft.list, change), changeWords(change));
    const isWriting = form !== null || isGoal;
    const choose = useCallback(
        (next: Element): void => {
            const [best] = proposals(next, made);
            if (isWriting && !isPlacing) {
                setSaid('Keep what you have begun, or cancel it, before you choose something else.');

                return;
            }
            if (isPlacing) {
                setIsPlacing(false);
                setForm((before) => before && { ...before, change: { ...before.change, to: best?.selector ?? '' } });

                return;
            }
            setSaid('');
            setForm(null);
            setIsGoal(false);
            setChosen({ element: next, selector: best?.selector ?? '' });
        },
        [made, isPlacing, isWriting],
    );
    const drop = (dragged: Element, { target, place }: Spot): void => {
        const selector = chosen?.element === dragged ? chosen.selector : proposals(dragged, made)[0]?.selector;
        const to = proposals(target, made)[0]?.selector;
        if (selector && to) {
            add({ kind: 'move', selector, place, to });
        }
    };
    const typeInPlace = (on: HTMLElement, selector: string): void => {
        if (on.children.length > 0) {
            setSaid('There are other elements in it, which a text would replace: choose the one with the words, or use “HTML inside”.');

            return;
        }
        const at = draft.list.findIndex((one) => isAbout(one, { kind: 'text', selector }));
        const text = at === -1 ? on.textContent : (draft.list[at].value ?? '');
        if (at !== -1 && opening.experiment && opening.variant) {
            // What is kept of it would be written over what is typed.
            running?.rework(opening.experiment, opening.variant, shown(without(draft.list, at), {}, []));
        }
        onPointing(false);
        onTyping(true);
        setSaid('Type on the page; Enter keeps it, Esc gives it up.');
        editing.current = editInPlace(on, text, (typed) => {
            editing.current = null;
            onPointing(true);
            onTyping(false);
            setSaid(typed === '' ? 'An empty text is none: hide the element, or remove it.' : '');
            if (typed && (at !== -1 || typed !== text.trim())) {
                add({ kind: 'text', selector, value: typed });
            }
        });
    };
    useEffect(() => () => editing.current?.(), []);
    const beside = (of: Element, place: 'before' | 'after', selector: string): void => {
        const neighbour = place === 'before' ? of.previousElementSibling : of.nextElementSibling;
        const to = neighbour && proposals(neighbour, made)[0]?.selector;
        if (to) {
            add({ kind: 'move', selector, place, to });
        } else {
            setSaid(place === 'before' ? 'It is the first there.' : 'It is the last there.');
        }
    };
    const act = (what: Act): void => {
        if (!chosen || !element) {
            return;
        }
        const { selector } = chosen;
        setSaid('');
        setIsStyling(false);
        const begin = (change: Changing, title: string): void => setForm({ change, title, at: null });
        switch (what) {
            case 'in-place':
                return typeInPlace(element as HTMLElement, selector);
            case 'hide':
            case 'remove':
                return add({ kind: what, selector });
            case 'earlier':
                return beside(element, 'before', selector);
            case 'later':
                return beside(element, 'after', selector);
            case 'duplicate':
                return add({ kind: 'insert', selector, place: 'after', value: markup(element) });
            case 'goal':
                return setIsGoal(true);
            case 'style':
                setForm(null);

                return setIsStyling(true);
            case 'text':
                return begin({ kind: 'text', selector, value: element.textContent.trim() }, 'Text');
            case 'html':
                return begin({ kind: 'html', selector, value: element.innerHTML.trim() }, 'HTML inside');
            case 'attribute': {
                const attribute = element.localName === 'img' ? 'src' : element.hasAttribute('href') ? 'href' : 'title';

                return begin({ kind: 'attribute', selector, attribute, value: element.getAttribute(attribute) ?? '' }, 'Attribute');
            }
            case 'class':
                return begin({ kind: 'class', selector }, 'Classes');
            case 'move':
                return begin({ kind: 'move', selector, place: 'before', to: '' }, 'Move');
            case 'insert':
                return begin({ kind: 'insert', selector, place: 'after', value: '' }, 'Insert');
        }
    };
    const edit = (at: number): void => {
        setIsStyling(false);
        setForm({ change: draft.list[at], title: `Change ${at + 1}`, at });
    };
    const keep = (change: Changing): void => {
        if (form?.at != null) {
            draft.set(replaced(draft.list, form.at, change), changeWords(change));
        } else {
            add(change);
        }
        setForm(null);
    };

    return (
        <div className="columns">
            <div>
                <Standing opening={opening} running={running} draft={draft} />
                <Pointer page={page} isPointing={isPointing} onPointing={onPointing} chosen={element} onChosen={choose} onDropped={drop}>
                    {draft.kept.may_code && (
                        <>
                            <button
                                type="button"
                                className="plain"
                                onClick={() => setForm({ change: { kind: 'sheet', value: '' }, title: 'Style sheet', at: null })}
                            >
                                Style sheet…
                            </button>{' '}
                            <button
                                type="button"
                                className="plain"
                                onClick={() => setForm({ change: { kind: 'script', value: '' }, title: 'Script', at: null })}
                            >
                                Script…
                            </button>{' '}
                        </>
                    )}
                </Pointer>
                {said && (
                    <p role="status" className="note">
                        {said}
                    </p>
                )}
                {isGoal && element && chosen ? (
                    <GoalForm
                        key={chosen.selector}
                        element={element}
                        selector={chosen.selector}
                        token={token}
                        onDone={(words) => {
                            setIsGoal(false);
                            setSaid(words);
                        }}
                        onCancel={() => setIsGoal(false)}
                    />
                ) : form ? (
                    <ChangeForm
                        change={form.change}
                        title={form.title}
                        page={page}
                        onChange={(change) => setForm({ ...form, change })}
                        onKeep={keep}
                        onCancel={() => {
                            setForm(null);
                            setIsPlacing(false);
                        }}
                        onPointAtPlace={() => {
                            setIsPlacing(!isPlacing);
                            onPointing(true);
                        }}
                        isPointingAtPlace={isPlacing}
                    />
                ) : (
                    chosen &&
                    (element ? (
                        <>
                            <Chosen
                                element={element}
                                selector={chosen.selector}
                                changes={made}
                                onSelector={(selector) => setChosen({ element: found(selector, page)[0] ?? element, selector })}
                                onAct={act}
                                mayCode={draft.kept.may_code}
                            />
                            {isStyling && (
                                <Styles
                                    element={element}
                                    selector={chosen.selector}
                                    list={draft.list}
                                    media={media}
                                    onMedia={setMedia}
                                    onStyle={(property, value) => {
                                        if (CSS.supports(property, value)) {
                                            setSaid('');
                                            add({ kind: 'style', selector: chosen.selector, property, value, ...(media ? { media } : {}) });
                                        } else {
                                            setSaid(`This browser knows no ${property} with the value “${value}”.`);
                                        }
                                    }}
                                    onTakeBack={(property) =>
                                        draft.set(
                                            draft.list.filter(
                                                (one) => !isAbout(one, { kind: 'style', selector: chosen.selector, property, media }),
                                            ),
                                            `${property} as it was`,
                                        )
                                    }
                                />
                            )}
                        </>
                    ) : (
                        <p className="soft">The chosen element is not on the page any more.</p>
                    ))
                )}
            </div>
            <Steps draft={draft} sayings={sayings} onEdit={edit} onPoint={setOutlined} onWithout={onWithout} />
            {outlined
                .filter((one) => one.isConnected)
                .map((one, i) => (
                    <Outline key={i} of={one} />
                ))}
        </div>
    );
}

/** Whether the page shows the variant at all, and why not. */
function Standing({ opening, running, draft }: { opening: Opening; running: Running | null; draft: Draft }) {
    const experiment = running?.configuration.experiments.find(({ key }) => key === opening.experiment);
    const entry = experiment && running ? entryOf(experiment, running.configuration, running.page) : null;

    return (
        <>
            {draft.kept.state !== 'draft' && (
                <p role="alert" className="broken">
                    The experiment is {draft.kept.state}: nothing that you do here is kept any more.
                </p>
            )}
            {entry && entry.variant === null && (
                <p role="status" className="doubt">
                    ▲ The experiment is not met on this page, so its changes are not shown: {entry.why}
                </p>
            )}
            {running?.isStale && (
                <p role="status" className="doubt">
                    ▲ A script that has run is not among the changes any more: what it did stays until the page is loaded again.{' '}
                    <button type="button" className="plain" onClick={() => location.reload()}>
                        Load it again
                    </button>
                </p>
            )}
        </>
    );
}

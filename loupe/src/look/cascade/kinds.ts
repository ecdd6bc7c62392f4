/** What is asked for its kind: of a page in a frame, everything is of other classes than ours. */
interface Kinds {
    CSSStyleRule: CSSStyleRule;
    CSSMediaRule: CSSMediaRule;
    CSSSupportsRule: CSSSupportsRule;
    CSSImportRule: CSSImportRule;
    CSSLayerStatementRule: CSSLayerStatementRule;
    CSSLayerBlockRule: CSSLayerBlockRule;
    CSSKeyframesRule: CSSKeyframesRule;
    KeyframeEffect: KeyframeEffect;
    CSSTransition: CSSTransition;
    CSSAnimation: CSSAnimation;
    HTMLStyleElement: HTMLStyleElement;
}

/** Whether something is of a kind, in whichever window it was made. */
export function is<K extends keyof Kinds>(thing: unknown, kind: K): thing is Kinds[K] {
    const own = (globalThis as unknown as Record<string, (new () => unknown) | undefined>)[kind];

    return (own !== undefined && thing instanceof own) || Object.prototype.toString.call(thing) === `[object ${kind}]`;
}

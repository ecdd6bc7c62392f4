/*
 * Called on an element: whether an animation keeps a property from what the winning rule gives it, and custom properties that the
 * rule asks for and that are not set there. An animation outranks what is not important (CSS Cascading Level 5, 6.1).
 */
(function (property, value, isImportant) {
    const style = getComputedStyle(this);
    const is = style.getPropertyValue(property);
    const names = Array.from(value.matchAll(/var\(\s*(--[\w-]+)\s*\)/g), ([, name]) => name);
    const told = { undefined: names.filter((name) => style.getPropertyValue(name).trim() === '') };
    if (isImportant) {
        return told;
    }
    const camel = property.startsWith('--') ? property : property.replace(/-(\w)/g, (_, letter) => letter.toUpperCase());
    for (const one of this.getAnimations()) {
        const effect = one.effect;
        if (one instanceof CSSTransition || !(effect instanceof KeyframeEffect) || !effect.getKeyframes().some((frame) => camel in frame)) {
            continue;
        }
        effect.target = null;
        const without = style.getPropertyValue(property);
        effect.target = this;
        if (without !== is) {
            return { ...told, is, by: one instanceof CSSAnimation ? `the animation ${one.animationName}` : 'an animation of a script' };
        }
    }
    return told;
});

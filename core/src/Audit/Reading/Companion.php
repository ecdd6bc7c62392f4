<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

/** Looks at the same units as an audit, so that a log is read once for both. It works in another process than the one that made it. */
interface Companion
{
    public function unit(Unit $unit): void;

    /** Called between the parts of a log. */
    public function prune(): void;

    /** What it has come to, in a form that can be handed from process to process. */
    public function result(): mixed;
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

/** How much an advice weighs. */
enum AdviceSeverity: string
{
    /** Without it the experiment cannot start. */
    case Missing = 'missing';

    /** It may spoil the experiment. */
    case Doubt = 'doubt';

    /** Worth knowing. */
    case Note = 'note';
}

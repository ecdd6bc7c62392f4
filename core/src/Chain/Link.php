<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** The seven links of the signal chain, in order. */
enum Link: string
{
    case Page = 'page';
    case Snippet = 'snippet';
    case Entry = 'entry';
    case Split = 'split';
    case Exposure = 'exposure';
    case Goals = 'goals';
    case Data = 'data';

    public function label(): string
    {
        return ucfirst($this->value);
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;

/** Whether page views make a unit eligible for an experiment that has not run yet, as far as recorded events tell. */
final readonly class Eligibility
{
    /**
     * @param Rule|null        $audience null for everybody
     * @param 'visitor'|'user' $unit
     */
    public function __construct(private PageRule $pages, private ?Rule $audience, private string $unit)
    {
    }

    /** Whether an event is a view of one of its pages. */
    public function isView(LogEvent $event): bool
    {
        return $event->name === 'page_view' && $this->pages->matches($event->url);
    }

    /** @return 'yes'|'no'|'unknown' `unknown` where it hangs on facts that the event does not hold */
    public function answer(LogEvent $view): string
    {
        if ($this->unit === 'user' && $view->user === null) {
            return 'no';
        }
        $facts = $view->facts();
        $answer = $this->audience === null ? true : $this->audience->judge($facts, $facts->isKnown(...));

        return $answer === null ? 'unknown' : ($answer ? 'yes' : 'no');
    }
}

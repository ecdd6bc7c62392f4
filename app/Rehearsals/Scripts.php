<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Experiment;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Rehearsal\InvalidScript;
use Pellix\Core\Rehearsal\Script;

/** The script of an experiment: as somebody has written it, or else as it follows from the experiment. */
final readonly class Scripts
{
    public function __construct(private EntryPages $pages)
    {
    }

    public function of(Experiment $experiment, Declared $declared): Script
    {
        $written = DB::table('rehearsal_scripts')->where('experiment_id', $experiment->id)->value('script');
        try {
            return is_string($written) ? Script::read(json_decode($written, true)) : $this->proposed($experiment, $declared);
        } catch (InvalidScript) {
            return $this->proposed($experiment, $declared);
        }
    }

    public function proposed(Experiment $experiment, Declared $declared): Script
    {
        $page = $this->pages->of($experiment->site, $declared)[0];

        return Script::read(['pellix' => 1, 'steps' => [['do' => 'open', 'path' => $page]]]);
    }
}

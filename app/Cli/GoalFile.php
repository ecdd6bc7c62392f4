<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\InvalidGoal;

/** A file of goals: a bare list of them, or any object that has one, such as an experiment file. */
final class GoalFile
{
    /**
     * @param resource $err is told of members that a goal does not know, which are ignored
     *
     * @return list<Goal>
     *
     * @throws BadUsage
     */
    public static function read(string $file, string $command, $err): array
    {
        return JsonFile::read($file, static function (mixed $json) use ($file, $command, $err): array {
            $isList = is_array($json) && array_is_list($json);
            $list = $isList ? $json : (new Fields($json, InvalidGoal::class, 'A file of goals'))->list('goals');
            if ($list === []) {
                throw new InvalidGoal('At least one goal is needed.', 'goals');
            }
            $goals = [];
            foreach ($list as $i => $goal) {
                $place = $isList ? (string) $i : "goals.{$i}";
                $read = Fields::within($place, static fn (): Goal => Goal::read($goal), InvalidGoal::class);
                foreach (Goal::unknownMembers($goal) as $member) {
                    fwrite($err, "{$command}: {$file}: field {$place}.{$member}: a goal has no such member, and it is ignored.\n");
                }
                if (isset($goals[$read->key])) {
                    throw new InvalidGoal("The key \"{$read->key}\" is taken by an earlier goal.", ($isList ? '' : 'goals.')."{$i}.key");
                }
                $goals[$read->key] = $read;
            }

            return array_values($goals);
        });
    }
}

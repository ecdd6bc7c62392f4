<?php

arch('the core knows nobody')
    ->expect('Pellix\Core')
    ->not->toUse(['App', 'Demo', 'Illuminate', 'Laravel', 'Symfony', 'Carbon', 'GuzzleHttp', 'Facebook']);

arch('the core has no clock, no chance and no output of its own')
    ->expect('Pellix\Core')
    ->not->toUse(['time', 'microtime', 'date', 'rand', 'mt_rand', 'random_int', 'random_bytes', 'getenv', 'file_get_contents', 'header', 'session_start']);

arch('everything in the core says its types')->expect('Pellix\Core')->toUseStrictTypes();

arch('nothing is left behind from debugging')->expect(['dd', 'dump', 'var_dump', 'print_r', 'ray'])->not->toBeUsed();

arch('controllers are thin: they do not reach for the database')
    ->expect('App\Http\Controllers')
    ->not->toUse('Illuminate\Support\Facades\DB');

<?php

/*
 * How passwords are kept: Argon2id with 19 MiB, 2 passes and one lane, the first of what the OWASP Password Storage Cheat Sheet
 * recommends. Those of before, made with bcrypt, are read too, and made anew when their person signs in.
 */
return [
    'driver' => 'argon2id',
    'bcrypt' => ['rounds' => 12, 'verify' => false],
    'argon' => ['memory' => 19456, 'threads' => 1, 'time' => 2, 'verify' => false],
    'rehash_on_login' => true,
];

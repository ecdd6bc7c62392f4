<?php

/*
 * The four functions of PHP 8.5 that Laravel 12 calls. Each is defined only where PHP has none of its own.
 */

if (! function_exists('array_first')) {
    /** The first value of an array, or null when it is empty. */
    function array_first(array $array): mixed
    {
        return $array === [] ? null : $array[array_key_first($array)];
    }
}

if (! function_exists('array_last')) {
    /** The last value of an array, or null when it is empty. */
    function array_last(array $array): mixed
    {
        return $array === [] ? null : $array[array_key_last($array)];
    }
}

if (! function_exists('get_error_handler')) {
    /** The error handler in force, found by setting another for an instant. */
    function get_error_handler(): ?callable
    {
        $handler = set_error_handler(null);
        restore_error_handler();

        return $handler;
    }
}

if (! function_exists('get_exception_handler')) {
    /** The exception handler in force, found by setting another for an instant. */
    function get_exception_handler(): ?callable
    {
        $handler = set_exception_handler(null);
        restore_exception_handler();

        return $handler;
    }
}

<?php

use Illuminate\Support\Facades\Route;

// Every view of the interface has an address of its own; the router in the browser tells them apart.
Route::view('/{any?}', 'interface')->where('any', '(?!api/|sanctum/|s/|c$).*');

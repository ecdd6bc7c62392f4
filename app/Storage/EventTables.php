<?php

namespace App\Storage;

use Illuminate\Support\Facades\DB;

/**
 * The tables that take in what arrives: events, in partitions by the month that they happened in; the ledger of their ids,
 * which holds each to once; and the queue of arrivals, from which workers learn what is new.
 *
 * Events lie together by visitor, since whatever counts them reads whole visitors. A partitioned table can hold an id to
 * once within a partition only: therefore the ledger.
 */
final class EventTables
{
    public static function create(): void
    {
        DB::statement('create table if not exists events (
            site_id int unsigned not null,
            visitor varchar(64) character set ascii collate ascii_bin not null,
            time datetime(3) not null comment "when it happened, UTC",
            event_id varchar(64) character set ascii collate ascii_bin not null,
            received datetime(3) not null,
            place tinyint unsigned not null default 0 comment "position within its beacon",
            clock_shift int not null default 0 comment "seconds added to the clock of the visitor",
            name varchar(64) character set ascii collate ascii_bin not null,
            url varchar(2000) not null,
            page bigint not null comment "of its key; addresses and pages join by it",
            referrer varchar(2000) null,
            agent varchar(512) not null,
            user varchar(200) collate utf8mb4_nopad_bin null,
            unit varchar(200) collate utf8mb4_nopad_bin not null comment "what its experiment was assigned by: the visitor, or the user",
            configuration int unsigned null comment "number of the published file that the visitor met",
            experiment varchar(60) character set ascii collate ascii_bin null,
            variant varchar(60) character set ascii collate ascii_bin null,
            device varchar(40) null, browser varchar(40) null, source varchar(40) null, country varchar(40) null,
            props text character set utf8mb4 collate utf8mb4_bin not null comment "JSON",
            primary key (site_id, visitor, time, event_id),
            key events_received (site_id, received, experiment),
            key events_names (site_id, name, received),
            key events_users (site_id, user, time)
        ) partition by range columns (time) (partition later values less than (maxvalue))');
        DB::statement('create table if not exists event_ids (
            site_id int unsigned not null,
            event_id varchar(64) character set ascii collate ascii_bin not null,
            visitor varchar(64) character set ascii collate ascii_bin not null,
            time datetime(3) not null,
            received datetime(3) not null,
            lasting tinyint not null default 0 comment "1 for orders, which are never forgotten",
            primary key (site_id, event_id)
        )');
        DB::statement('create table if not exists arrivals (
            id bigint unsigned not null auto_increment primary key,
            site_id int unsigned not null,
            visitor varchar(64) character set ascii collate ascii_bin null,
            kind varchar(8) character set ascii collate ascii_bin not null comment "events, rejected, again",
            received datetime(3) not null,
            content text not null comment "JSON: ids of events, or numbers by reason",
            key arrivals_sites (site_id, id),
            key arrivals_visitors (site_id, visitor)
        )');
    }
}

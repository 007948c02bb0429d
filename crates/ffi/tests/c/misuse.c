/* Calls that are wrong in every way a caller can be wrong, and that must be told as such and do nothing. */
#define _POSIX_C_SOURCE 200809L
#include "harmonym.h"

#include <math.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { ROUNDS = 5000 };

static int wrong = 0;

#define EXPECT(wanted, call)                                                                         \
    do {                                                                                             \
        hny_status status_ = (call);                                                                   \
        if (status_ != (wanted)) {                                                                   \
            printf("%d: %s is %d, not %s\n", __LINE__, #call, (int)status_, #wanted);                \
            wrong++;                                                                                 \
        }                                                                                            \
    } while (0)

#define HOLDS(what)                                                                                  \
    do {                                                                                             \
        if (!(what)) {                                                                               \
            printf("%d: not so: %s\n", __LINE__, #what);                                             \
            wrong++;                                                                                 \
        }                                                                                            \
    } while (0)

static const char PROFILE[] = "harmonym = 1\n"
                              "seats = 2\n"
                              "[scheme.desk]\ndevices = [\"key\", \"mouse\"]\n"
                              "[setting.pace]\ndefault = 1\nrange = [0.5, 2]\n"
                              "[map.quay]\nstart = true\n"
                              "[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n"
                              "[map.quay.walk]\nvalue = \"plane\"\n"
                              "bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | scale pace\"\n"
                              "[map.sky]\nkind = \"always\"\n"
                              "[map.sky.wave]\nvalue = \"switch\"\nbind.desk = \"char.z\"\n";

static const hny_vector DOWN = {1, 0, 0, 0}, UP = {0, 0, 0, 0};

static hny_game game_of(const char *text) {
    hny_game game = 0;
    EXPECT(HNY_OK, hny_game_read("harmonym.toml", text, strlen(text), &game));
    return game;
}

static uint32_t find(hny_game game, int32_t what, const char *name) {
    uint32_t id = HNY_NONE;
    EXPECT(HNY_OK, hny_find(game, what, name, &id));
    return id;
}

/* Handles that stand for nothing, for something else, or for nothing any more. */
static void handles(void) {
    hny_game game = game_of(PROFILE), other;
    hny_hands hands;
    uint32_t number;
    size_t count;
    hny_vector value;
    hny_reader reader = {0, 0};
    EXPECT(HNY_OK, hny_hands_start(game, 2, &hands));
    hny_hands odd[] = {0, 1, 7, game, hands + 1, hands ^ (1ull << 40), UINT64_MAX};
    for (size_t at = 0; at < sizeof odd / sizeof *odd; at++) {
        EXPECT(HNY_NO_HANDLE, hny_tick(odd[at], 1));
        EXPECT(HNY_NO_HANDLE, hny_report(odd[at], 1, 0, 0, &DOWN));
        EXPECT(HNY_NO_HANDLE, hny_value(odd[at], 1, 0, &value));
        EXPECT(HNY_NO_HANDLE, hny_events(odd[at], &reader, NULL, 0, &count));
        EXPECT(HNY_NO_HANDLE, hny_stop(odd[at]));
        EXPECT(HNY_NO_HANDLE, hny_hands_free(odd[at]));
    }
    EXPECT(HNY_NO_HANDLE, hny_hands_start(hands, 1, &other));
    EXPECT(HNY_NO_HANDLE, hny_count(hands, HNY_ACTION, &number));
    EXPECT(HNY_NO_HANDLE, hny_game_free(hands));
    EXPECT(HNY_NO_HANDLE, hny_replan(hands, 1, hands));
    EXPECT(HNY_OK, hny_game_free(game));
    EXPECT(HNY_NO_HANDLE, hny_game_free(game));
    EXPECT(HNY_NO_HANDLE, hny_find(game, HNY_ACTION, "quay.hail", &number));
    /* Hands outlive their game. */
    EXPECT(HNY_OK, hny_tick(hands, 1));
    EXPECT(HNY_OK, hny_hands_free(hands));
    EXPECT(HNY_NO_HANDLE, hny_hands_free(hands));
    EXPECT(HNY_NO_HANDLE, hny_tick(hands, 2));
    /* A place that is used again is another handle. */
    for (int round = 0; round < 3000; round++) {
        hny_hands fresh;
        game = game_of("harmonym = 1\n");
        EXPECT(HNY_OK, hny_hands_start(game, 1, &fresh));
        HOLDS(fresh != hands && fresh != 0);
        EXPECT(HNY_OK, hny_hands_free(fresh));
        EXPECT(HNY_OK, hny_game_free(game));
    }
    EXPECT(HNY_NO_HANDLE, hny_tick(hands, 2));
}

/* Pointers that are null or lie askew. */
static void pointers(void) {
    hny_game game = game_of(PROFILE);
    hny_hands hands;
    hny_reader reader = {0, 0};
    hny_told told[2];
    uint32_t number;
    int32_t flag;
    double worth;
    size_t count;
    char room[64];
    union {
        char bytes[256];
        uint64_t aligned;
    } askew;
    EXPECT(HNY_BAD_POINTER, hny_game_read(NULL, PROFILE, 3, &game));
    EXPECT(HNY_BAD_POINTER, hny_game_read("p", NULL, 3, &game));
    EXPECT(HNY_BAD_POINTER, hny_game_read("p", PROFILE, sizeof PROFILE - 1, NULL));
    EXPECT(HNY_BAD_POINTER, hny_game_unpack(NULL, 1, &game));
    EXPECT(HNY_BAD_POINTER, hny_game_unpack("{}", 2, NULL));
    EXPECT(HNY_BAD_POINTER, hny_game_for_layout(game, NULL, &game));
    EXPECT(HNY_BAD_POINTER, hny_game_for_player(game, NULL, 1, &game));
    EXPECT(HNY_BAD_POINTER, hny_find(game, HNY_ACTION, NULL, &number));
    EXPECT(HNY_BAD_POINTER, hny_find(game, HNY_ACTION, "quay.hail", NULL));
    EXPECT(HNY_BAD_POINTER, hny_count(game, HNY_ACTION, NULL));
    EXPECT(HNY_BAD_POINTER, hny_name(game, HNY_ACTION, 0, NULL, 9, NULL));
    EXPECT(HNY_BAD_POINTER, hny_kind(game, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_expect_names(game, NULL));
    EXPECT(HNY_BAD_POINTER, hny_hands_start(game, 1, NULL));
    EXPECT(HNY_OK, hny_hands_start(game, 1, &hands));
    EXPECT(HNY_BAD_POINTER, hny_report(hands, 1, 0, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_report_all(hands, NULL, 1, NULL));
    EXPECT(HNY_BAD_POINTER, hny_report_all(hands, (void *)&askew.bytes[8], SIZE_MAX / 8, NULL));
    EXPECT(HNY_OK, hny_report_all(hands, NULL, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_value(hands, 1, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_fired(hands, 1, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_read(hands, 1, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_read_all(hands, 1, NULL, 3, &count));
    EXPECT(HNY_BAD_POINTER, hny_read_all(hands, 1, NULL, 0, NULL));
    EXPECT(HNY_OK, hny_read_all(hands, 1, NULL, 0, &count));
    HOLDS(count == 3);
    EXPECT(HNY_BAD_POINTER, hny_changed(hands, 1, NULL, 3, &count));
    EXPECT(HNY_BAD_POINTER, hny_changed(hands, 1, NULL, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_events(hands, NULL, told, 2, &count));
    EXPECT(HNY_BAD_POINTER, hny_events(hands, &reader, NULL, 2, &count));
    EXPECT(HNY_BAD_POINTER, hny_events(hands, &reader, told, 2, NULL));
    EXPECT(HNY_BAD_POINTER, hny_event_lines(hands, &reader, NULL, 2, &count));
    EXPECT(HNY_BAD_POINTER, hny_event_lines(hands, NULL, room, sizeof room, &count));
    EXPECT(HNY_BAD_POINTER, hny_is_open(hands, 1, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_scheme_in_use(hands, 1, NULL));
    EXPECT(HNY_BAD_POINTER, hny_number(hands, 1, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_owner(hands, 0, 0, NULL));
    EXPECT(HNY_BAD_POINTER, hny_caught_one(hands, NULL));
    EXPECT(HNY_BAD_POINTER, hny_replay_read(game, NULL, "{}", 2, &game));
    EXPECT(HNY_BAD_POINTER, hny_replay_read(game, "t", NULL, 2, &game));
    EXPECT(HNY_BAD_POINTER, hny_replay_read(game, "t", "{}", 2, NULL));
    EXPECT(HNY_BAD_POINTER, hny_value(hands, 1, 0, (hny_vector *)(void *)(askew.bytes + 1)));
    EXPECT(HNY_BAD_POINTER, hny_report(hands, 1, 0, 0, (hny_vector *)(void *)(askew.bytes + 4)));
    EXPECT(HNY_BAD_POINTER, hny_events(hands, &reader, (hny_told *)(void *)(askew.bytes + 4), 1, &count));
    EXPECT(HNY_OK, hny_message(room, sizeof room, &count));
    HOLDS(strcmp(room, "a pointer is not aligned") == 0 && count == strlen(room));
    EXPECT(HNY_BAD_POINTER, hny_message(NULL, 5, NULL));
    EXPECT(HNY_TOO_SMALL, hny_message(NULL, 0, &count));
    EXPECT(HNY_OK, hny_number(hands, 1, 0, &worth));
    EXPECT(HNY_OK, hny_is_open(hands, 1, 0, &flag));
    HOLDS(worth == 1 && flag == 1);
    EXPECT(HNY_OK, hny_hands_free(hands));
    EXPECT(HNY_OK, hny_game_free(game));
}

/* Numbers of nothing, and what cannot be. */
static void numbers(void) {
    hny_game game = game_of(PROFILE);
    hny_hands hands;
    hny_vector value = {NAN, 0, 0, 0};
    hny_reported reports[2] = {{5, 0, 0, {1, 0, 0, 0}}, {5, HNY_NONE, 0, {1, 0, 0, 0}}};
    uint32_t key = find(game, HNY_CONTROL, "key.KeyH"), sky = find(game, HNY_MAP, "sky");
    uint32_t number, seat;
    int32_t flag;
    size_t done = 9;
    double worth;
    EXPECT(HNY_UNKNOWN, hny_hands_start(game, 0, &hands));
    EXPECT(HNY_UNKNOWN, hny_hands_start(game, 9, &hands));
    EXPECT(HNY_OK, hny_hands_start(game, 2, &hands));
    EXPECT(HNY_UNKNOWN, hny_find(game, HNY_ACTION, "quay.hale", &number));
    EXPECT(HNY_UNKNOWN, hny_find(game, 99, "quay.hail", &number));
    EXPECT(HNY_UNKNOWN, hny_find(game, HNY_CUE, "press", &number));
    EXPECT(HNY_UNKNOWN, hny_count(game, -1, &number));
    EXPECT(HNY_UNKNOWN, hny_name(game, HNY_ACTION, 3, NULL, 0, NULL));
    EXPECT(HNY_UNKNOWN, hny_kind(game, HNY_NONE, &flag));
    EXPECT(HNY_UNKNOWN, hny_report(hands, 1, HNY_NONE, 0, &DOWN));
    EXPECT(HNY_UNKNOWN, hny_report(hands, 1, key, 8, &DOWN));
    EXPECT(HNY_UNKNOWN, hny_report(hands, 1, key, 256, &DOWN));
    EXPECT(HNY_REFUSED, hny_report(hands, 1, key, 0, &value));
    EXPECT(HNY_UNKNOWN, hny_report_all(hands, reports, 2, &done));
    HOLDS(done == 1);
    for (seat = 0; seat < 300; seat += 3) {
        hny_status wanted = seat == 0 || seat > 2 ? HNY_UNKNOWN : HNY_OK;
        EXPECT(wanted, hny_value(hands, seat, 0, &value));
        EXPECT(wanted, hny_scheme_in_use(hands, seat, &number));
        EXPECT(seat == 0 ? HNY_OK : wanted, hny_set_number(hands, 1, seat, 0, 1));
    }
    EXPECT(HNY_UNKNOWN, hny_fired(hands, 1, 3, &number));
    EXPECT(HNY_UNKNOWN, hny_set_open(hands, 1, HNY_ALL_SEATS, 99, 1));
    EXPECT(HNY_REFUSED, hny_set_open(hands, 1, HNY_ALL_SEATS, sky, 0));
    EXPECT(HNY_UNKNOWN, hny_is_open(hands, 1, 99, &flag));
    EXPECT(HNY_UNKNOWN, hny_set_number(hands, 1, 1, 7, 1));
    EXPECT(HNY_REFUSED, hny_set_number(hands, 1, 1, 0, INFINITY));
    EXPECT(HNY_UNKNOWN, hny_number(hands, 1, 7, &worth));
    EXPECT(HNY_UNKNOWN, hny_narrow(hands, 1, 1, 7));
    EXPECT(HNY_OK, hny_narrow(hands, 1, 1, 0));
    EXPECT(HNY_OK, hny_narrow(hands, 1, 1, HNY_NONE));
    EXPECT(HNY_UNKNOWN, hny_plug(hands, 1, 99, 0, 1));
    EXPECT(HNY_UNKNOWN, hny_plug(hands, 1, 0, 8, 1));
    EXPECT(HNY_UNKNOWN, hny_give(hands, 1, 0, 0, 3));
    EXPECT(HNY_UNKNOWN, hny_owner(hands, 0, 77, &number));
    EXPECT(HNY_UNKNOWN, hny_leave(hands, 1, 3));
    EXPECT(HNY_UNKNOWN, hny_catch(hands, 3, 255));
    HOLDS(hny_cause_word(-1) == NULL && hny_cause_word(16) == NULL);
    HOLDS(strcmp(hny_cause_word(0), "released") == 0 && strcmp(hny_cause_word(15), "stopped") == 0);
    HOLDS(hny_version() == 1);
    EXPECT(HNY_OK, hny_hands_free(hands));
    EXPECT(HNY_OK, hny_game_free(game));
}

/* Texts that are none, and texts with faults. */
static void texts(void) {
    static const char FAULTY[] = "harmonym = 1\n[map.quay.hail]\nvalue = \"swich\"\nfire = \"hold\"\n";
    hny_game game = game_of(PROFILE), other;
    hny_place place;
    hny_hands replay;
    char message[256];
    size_t length;
    EXPECT(HNY_BAD_TEXT, hny_game_read("p", "\xff\xfe", 2, &other));
    EXPECT(HNY_BAD_TEXT, hny_game_read("\xff", PROFILE, 5, &other));
    EXPECT(HNY_BAD_TEXT, hny_game_read("p", PROFILE, SIZE_MAX, &other));
    EXPECT(HNY_BAD_TEXT, hny_find(game, HNY_ACTION, "quay.\xff", (uint32_t *)&place.line));
    EXPECT(HNY_FAULTY, hny_game_read("p.toml", FAULTY, sizeof FAULTY - 1, &other));
    EXPECT(HNY_OK, hny_fault(0, &place, message, sizeof message, &length));
    HOLDS(place.line == 3 && place.column == 9 && place.end_line == 3 && place.end_column == 16);
    HOLDS(strcmp(message, "`swich` is not a kind of value; did you mean `switch`?") == 0);
    EXPECT(HNY_OK, hny_fault(1, NULL, message, sizeof message, NULL));
    EXPECT(HNY_TOO_SMALL, hny_fault(1, &place, message, 3, &length));
    HOLDS(place.line == 4 && length > 3);
    EXPECT(HNY_UNKNOWN, hny_fault(2, &place, message, sizeof message, &length));
    EXPECT(HNY_OK, hny_message(message, sizeof message, &length));
    HOLDS(strncmp(message, "p.toml:3:9: `swich`", 19) == 0);
    EXPECT(HNY_FAULTY, hny_game_unpack("{\"pack\":1}", 10, &other));
    EXPECT(HNY_OK, hny_fault(0, &place, message, sizeof message, NULL));
    HOLDS(place.line == 1);
    EXPECT(HNY_FAULTY, hny_game_for_player(game, "harmonym-player = 9\n", 20, &other));
    EXPECT(HNY_UNKNOWN, hny_game_for_layout(game, "moon", &other));
    EXPECT(HNY_FAULTY, hny_replay_read(game, "t", "{\"t\":0}", 7, &replay));
    EXPECT(HNY_REFUSED, hny_expect_names(game, "0123456789abcdef"));
    EXPECT(HNY_OK, hny_game_free(game));
}

/* Buffers of every size, for what is told and what is called how. */
static void buffers(void) {
    hny_game game = game_of(PROFILE);
    uint32_t key = find(game, HNY_CONTROL, "key.KeyH");
    hny_hands hands;
    hny_reader all = {0, 0}, some = {0, 0}, lines = {0, 0}, late = {0, 0};
    hny_told told[64], few[64];
    size_t count, length, got, total = 0;
    char name[32], *text;
    EXPECT(HNY_OK, hny_name(game, HNY_ACTION, 0, name, sizeof name, &length));
    HOLDS(strcmp(name, "quay.hail") == 0 && length == 9);
    for (size_t room = 0; room < 12; room++) {
        memset(name, '#', sizeof name);
        EXPECT(room > 9 ? HNY_OK : HNY_TOO_SMALL, hny_name(game, HNY_ACTION, 0, name, room, &length));
        HOLDS(length == 9 && name[room] == '#');
    }
    EXPECT(HNY_OK, hny_hands_start(game, 1, &hands));
    for (uint64_t at = 1; at < 9; at++) {
        EXPECT(HNY_OK, hny_report(hands, at * 1000, key, 0, at % 2 == 1 ? &DOWN : &UP));
        EXPECT(HNY_OK, hny_tick(hands, at * 1000));
    }
    EXPECT(HNY_OK, hny_events(hands, &all, told, 64, &count));
    HOLDS(count > 12 && told[count - 1].kind == HNY_REST);
    for (size_t room = 1; total < count; room = room % 3 + 1) {
        EXPECT(HNY_OK, hny_events(hands, &some, few, room, &got));
        HOLDS(got <= room && got > 0 && memcmp(few, told + total, got * sizeof *told) == 0);
        total += got;
    }
    EXPECT(HNY_OK, hny_events(hands, &some, NULL, 0, &got));
    HOLDS(got == 0 && some.seen == all.seen && some.missed == 0);
    text = malloc(100);
    EXPECT(HNY_TOO_SMALL, hny_event_lines(hands, &lines, text, 20, &length));
    HOLDS(lines.seen == 0 && length > 20 && length < 400);
    free(text);
    text = malloc(length);
    EXPECT(HNY_OK, hny_event_lines(hands, &lines, text, length, &length));
    HOLDS(lines.seen == 1 && text[length] == 0 && text[length - 1] == '\n');
    free(text);
    /* More than the log holds. */
    for (uint64_t at = 9; at < 9000; at++) {
        EXPECT(HNY_OK, hny_report(hands, at * 1000, key, 0, at % 2 == 1 ? &DOWN : &UP));
    }
    EXPECT(HNY_OK, hny_events(hands, &late, told, 64, &count));
    HOLDS(count == 64 && late.missed > 4096);
    late.seen = UINT64_MAX;
    EXPECT(HNY_OK, hny_events(hands, &late, told, 64, &count));
    HOLDS(count == 0);
    EXPECT(HNY_OK, hny_hands_free(hands));
    EXPECT(HNY_OK, hny_game_free(game));
}

/* What was told before another plan took over keeps the ids of its own, whenever it is taken. */
static void plans(void) {
    static const char FEWER[] = "harmonym = 1\nseats = 2\n[scheme.desk]\ndevices = [\"key\", \"mouse\"]\n"
                                "[map.quay]\nstart = true\n"
                                "[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n";
    hny_game first = game_of(PROFILE), second = game_of(FEWER);
    uint32_t key = find(first, HNY_CONTROL, "key.KeyZ"), wave = find(first, HNY_ACTION, "sky.wave");
    uint32_t hail = find(second, HNY_ACTION, "quay.hail");
    hny_hands hands;
    hny_reader reader = {0, 0}, lines = {0, 0};
    hny_told told[64];
    size_t count, length, plan = 0;
    char text[8192];
    EXPECT(HNY_OK, hny_hands_start(first, 1, &hands));
    EXPECT(HNY_OK, hny_report(hands, 1000, key, 0, &DOWN));
    EXPECT(HNY_OK, hny_replan(hands, 2000, second));
    EXPECT(HNY_OK, hny_report(hands, 3000, find(second, HNY_CONTROL, "key.KeyH"), 0, &DOWN));
    EXPECT(HNY_OK, hny_events(hands, &reader, told, 64, &count));
    while (plan < count && told[plan].kind != HNY_PLAN) plan++;
    HOLDS(plan > 0 && plan < count);
    for (size_t at = 0; at < count; at++) {
        if (told[at].kind > HNY_REST) continue;
        HOLDS(told[at].action == (at < plan ? wave : hail));
    }
    EXPECT(HNY_OK, hny_event_lines(hands, &lines, text, sizeof text, &length));
    HOLDS(lines.seen == reader.seen && strstr(text, "sky.wave") != NULL && strstr(text, "quay.hail") != NULL);
    EXPECT(HNY_OK, hny_hands_free(hands));
    EXPECT(HNY_OK, hny_game_free(first));
    EXPECT(HNY_OK, hny_game_free(second));
}

static hny_hands shared;
static hny_game shared_game;

/* Any status but a broken one may come; nothing else may happen. */
static void *worker(void *arg) {
    size_t done = 0, busy = 0;
    uint32_t number;
    for (int round = 0; round < ROUNDS; round++) {
        hny_status status = hny_report(shared, (uint64_t)round, 20, 0, round % 2 ? &DOWN : &UP);
        hny_status ticked = hny_tick(shared, (uint64_t)round);
        hny_status found = hny_find(shared_game, HNY_ACTION, "quay.walk", &number);
        if (found != HNY_OK || number != 1) busy += 1000000;
        if (status == HNY_OK && ticked == HNY_OK) done++;
        else if (status == HNY_BUSY || ticked == HNY_BUSY) busy++;
        else busy += 1000000;
    }
    *(size_t *)arg = done + busy;
    return NULL;
}

/* Two threads at once on the same hands: some calls are told to be too many, and none breaks anything. */
static void threads(void) {
    pthread_t all[3];
    size_t rounds[3] = {0, 0, 0};
    shared_game = game_of(PROFILE);
    EXPECT(HNY_OK, hny_hands_start(shared_game, 1, &shared));
    for (int at = 0; at < 3; at++) HOLDS(pthread_create(&all[at], NULL, worker, &rounds[at]) == 0);
    for (int at = 0; at < 3; at++) HOLDS(pthread_join(all[at], NULL) == 0);
    for (int at = 0; at < 3; at++) HOLDS(rounds[at] == ROUNDS);
    EXPECT(HNY_OK, hny_hands_free(shared));
    EXPECT(HNY_OK, hny_game_free(shared_game));
}

int main(void) {
    handles();
    pointers();
    numbers();
    texts();
    buffers();
    plans();
    threads();
    printf("%d wrong\n", wrong);
    return wrong != 0;
}

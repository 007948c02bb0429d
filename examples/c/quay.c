/* A small game: a keeper on the quay, a boat that can be hailed, a bell that can be rung.
 *
 * `quay PROFILE` is played with the keyboard, in a terminal. `quay PROFILE TAKE` plays a take and prints what
 * `harmonym play --format json` prints of it.
 */
#define _POSIX_C_SOURCE 200809L
#include "harmonym.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <termios.h>
#include <time.h>
#include <unistd.h>

/* How long the quay is, in steps, and how many of them a second are walked. */
enum { LENGTH = 40, PACE = 8 };

/* A terminal tells of keys that go down, not of keys that come up: so long after the last it did, in nanoseconds. */
static const uint64_t KEY = 150000000;

/* The game: it knows actions, and nothing of keys. */
static struct {
    uint32_t walk, hail, ring;
    double keeper, boat;
    const char *says;
} quay = {0, 0, 0, 5, LENGTH - 5, ""};

/* Ends the program where a call did nothing. */
static void check(hny_status status) {
    char message[1024] = "";
    if (status == HNY_OK) return;
    hny_message(message, sizeof message, NULL);
    fprintf(stderr, "%s\n", message);
    exit(2);
}

static char *read_file(const char *path, size_t *length) {
    FILE *file = fopen(path, "rb");
    char *text = NULL;
    if (file == NULL || fseek(file, 0, SEEK_END) != 0) goto fault;
    *length = (size_t)ftell(file);
    rewind(file);
    text = malloc(*length + 1);
    if (text == NULL || fread(text, 1, *length, file) != *length) goto fault;
    fclose(file);
    return text;
fault:
    perror(path);
    exit(2);
}

static void find_actions(hny_game game) {
    check(hny_find(game, HNY_ACTION, "quay.walk", &quay.walk));
    check(hny_find(game, HNY_ACTION, "quay.hail", &quay.hail));
    check(hny_find(game, HNY_ACTION, "harbour.ring-bell", &quay.ring));
}

/* One frame of so many nanoseconds. */
static void frame(hny_hands hands, uint64_t length) {
    hny_vector way;
    uint32_t hailed, rung;
    check(hny_value(hands, 1, quay.walk, &way));
    check(hny_fired(hands, 1, quay.hail, &hailed));
    check(hny_fired(hands, 1, quay.ring, &rung));
    quay.keeper += way.x * PACE * (double)length / 1e9;
    if (quay.keeper < 0) quay.keeper = 0;
    if (quay.keeper > LENGTH - 1) quay.keeper = LENGTH - 1;
    if (hailed > 0) {
        quay.boat = quay.keeper;
        quay.says = "The boat comes alongside.";
    }
    if (rung > 0) {
        quay.boat = LENGTH - 5;
        quay.says = "The bell rings, and the boat leaves.";
    }
}

static void draw(void) {
    char water[LENGTH + 1], stone[LENGTH + 1];
    memset(water, '~', LENGTH);
    memset(stone, '=', LENGTH);
    water[LENGTH] = stone[LENGTH] = 0;
    water[(int)(quay.boat + 0.5)] = 'B';
    stone[(int)(quay.keeper + 0.5)] = '@';
    printf("\033[HLantern Quay: A and D walk, H hails, Ctrl-T rings, Q ends\033[K\r\n");
    printf("%s\033[K\r\n%s\033[K\r\n%s\033[K\r\n", water, stone, quay.says);
    fflush(stdout);
}

/* Prints what was told since it was printed last. */
static void print_events(hny_hands hands, hny_reader *reader) {
    char lines[8192];
    size_t length;
    do {
        check(hny_event_lines(hands, reader, lines, sizeof lines, &length));
        fwrite(lines, 1, length, stdout);
    } while (length > 0);
}

/* Plays a take, and prints its events. */
static void of_take(hny_game game, const char *path) {
    size_t length;
    char *text = read_file(path, &length), line[8192];
    hny_replay replay;
    hny_hands hands;
    hny_reader reader = {0, 0};
    uint64_t at, last = 0;
    int32_t step;
    check(hny_replay_read(game, path, text, length, &replay));
    check(hny_replay_hands(replay, &hands));
    check(hny_replay_start_line(replay, line, sizeof line, NULL));
    fputs(line, stdout);
    do {
        check(hny_replay_step(replay, hands, &step, &at));
        if (step == HNY_STEP_TICK) {
            check(hny_tick(hands, at));
            frame(hands, at - last);
            last = at;
        }
        print_events(hands, &reader);
    } while (step != HNY_STEP_END);
    check(hny_stop(hands));
    print_events(hands, &reader);
    check(hny_replay_end_line(replay, line, sizeof line, NULL));
    fputs(line, stdout);
    check(hny_hands_free(hands));
    check(hny_replay_free(replay));
    free(text);
}

static uint64_t now(void) {
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000000000u + (uint64_t)at.tv_nsec;
}

/* A key of the terminal, and when it counts as up. */
struct key {
    uint32_t control;
    uint64_t until;
};

static void press(hny_game game, hny_hands hands, uint64_t at, const char *name, struct key *keys) {
    const hny_vector down = {1, 0, 0, 0};
    uint32_t control;
    int place = 0;
    if (hny_find(game, HNY_CONTROL, name, &control) != HNY_OK) return;
    while (place < 7 && keys[place].until != 0 && keys[place].control != control) place++;
    keys[place].control = control;
    keys[place].until = at + KEY;
    check(hny_report(hands, at, control, 0, &down));
}

/* The terminal as it was, which is given back at the end. */
static struct termios before;

static void give_back(void) {
    tcsetattr(STDIN_FILENO, TCSANOW, &before);
    printf("\033[?25h");
}

/* Plays with the keyboard. */
static void by_hand(hny_game game) {
    const struct timespec pause = {0, 16000000};
    const hny_vector up = {0, 0, 0, 0};
    const uint64_t begun = now();
    struct key keys[8] = {{0, 0}};
    struct termios raw;
    hny_hands hands;
    uint64_t last = 0;
    check(hny_hands_start(game, 1, &hands));
    if (tcgetattr(STDIN_FILENO, &before) != 0) return;
    raw = before;
    raw.c_lflag &= ~(tcflag_t)(ICANON | ECHO | ISIG);
    raw.c_cc[VMIN] = raw.c_cc[VTIME] = 0;
    atexit(give_back);
    tcsetattr(STDIN_FILENO, TCSANOW, &raw);
    printf("\033[2J\033[?25l");
    for (;;) {
        uint64_t at = now() - begun;
        char byte, name[] = "key.KeyA";
        while (read(STDIN_FILENO, &byte, 1) == 1) {
            if (byte == 'q' || byte == 3) {
                check(hny_hands_free(hands));
                return;
            }
            /* With Control, a letter comes as its place in the alphabet. */
            if (byte >= 1 && byte <= 26) press(game, hands, at, "key.ControlLeft", keys);
            name[7] = (char)(byte >= 'a' ? byte - 'a' + 'A' : byte <= 26 ? byte + 'A' - 1 : byte);
            press(game, hands, at, name, keys);
        }
        for (int place = 0; place < 8; place++) {
            if (keys[place].until == 0 || keys[place].until > at) continue;
            check(hny_report(hands, at, keys[place].control, 0, &up));
            keys[place].until = 0;
        }
        check(hny_tick(hands, at));
        frame(hands, at - last);
        last = at;
        draw();
        nanosleep(&pause, NULL);
    }
}

int main(int count, char **args) {
    hny_game game;
    size_t length;
    char *profile;
    if (count < 2 || count > 3) {
        fprintf(stderr, "usage: quay PROFILE [TAKE]\n");
        return 2;
    }
    profile = read_file(args[1], &length);
    check(hny_game_read(args[1], profile, length, &game));
    find_actions(game);
    if (count == 3) of_take(game, args[2]);
    else by_hand(game);
    check(hny_game_free(game));
    free(profile);
    return 0;
}

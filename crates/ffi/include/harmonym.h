/* Harmonym: how hands become actions. The C interface.
 *
 * Made from the library's sources by cbindgen; a test of the library compares it.
 *
 * A handle (hny_game, hny_hands, hny_replay) is a number: 0 stands for nothing, one that was freed is told as such. Ids are
 * numbers from 0. Times are nanoseconds since the hands were started. Texts are UTF-8. Every call returns a status; what
 * it has to say is told by hny_message, a thread each. Two threads may call at once, not for the same hands: one of them is
 * told HNY_BUSY then. A pointer must lead to as much memory as the call says; null is told as HNY_BAD_POINTER.
 *
 * MIT or Apache-2.0.
 */

#ifndef HARMONYM_H
#define HARMONYM_H

#include <stddef.h>
#include <stdint.h>

// It is done.
#define HNY_OK 0

// The handle stands for nothing: it is 0, of another kind, or was freed.
#define HNY_NO_HANDLE 1

// Another call is at work on it at this moment, in another thread.
#define HNY_BUSY 2

// A pointer is null where it must not be, or is not aligned.
#define HNY_BAD_POINTER 3

// A text is not UTF-8, or too long.
#define HNY_BAD_TEXT 4

// A profile, pack, player's file or take has faults: `hny_message` tells them, `hny_fault` their places.
#define HNY_FAULTY 5

// A name or number of nothing.
#define HNY_UNKNOWN 6

// It cannot be done; `hny_message` says why.
#define HNY_REFUSED 7

// The buffer is too small; the length that is needed was told, and nothing else was done.
#define HNY_TOO_SMALL 8

// There are as many handles of the kind as there can be: 1,024.
#define HNY_FULL 9

// A fault of this library's: please report it with `hny_message`. What the handle stands for is gone.
#define HNY_BROKEN 10

// No id: nothing is meant, or nothing is there.
#define HNY_NONE UINT32_MAX

// No time: it did not come to that.
#define HNY_NEVER UINT64_MAX

// All seats, where a seat is asked for; seats are numbered from 1.
#define HNY_ALL_SEATS 0

// An action: `hny_find`, `hny_name`.
#define HNY_ACTION 0

// A map.
#define HNY_MAP 1

// A scheme.
#define HNY_SCHEME 2

// A setting or fact.
#define HNY_NUMBER 3

// A control that a device reports.
#define HNY_CONTROL 4

// A binding.
#define HNY_BINDING 5

// A cue of a fire rule, as it is written: `hny_name` only.
#define HNY_CUE 6

// A class of devices: `key`, `pad`.
#define HNY_CLASS 7

// On or off: `x` is 1 or 0.
#define HNY_SWITCH 0

// One number: `x`.
#define HNY_AXIS 1

// Two numbers: `x` and `y`.
#define HNY_PLANE 2

// Three numbers: `x`, `y` and `z`.
#define HNY_SPACE 3

// A rotation: the unit quaternion `x`, `y`, `z`, `w`.
#define HNY_TURN 4

// The action is at rest.
#define HNY_AT_REST 0

// It is awake and has not fired.
#define HNY_PENDING 1

// It has fired and is not over.
#define HNY_LIVE 2

// The kind of something told: an action left rest.
#define HNY_WAKE 0

// It fired.
#define HNY_FIRE 1

// Its episode ended and it never fired.
#define HNY_LAPSE 2

// Its episode ended after it fired.
#define HNY_REST 3

// The hands went over to another scheme.
#define HNY_SCHEME_IN_USE 4

// A map opened (`on`) or closed.
#define HNY_MAP_OPEN 5

// The game was paused (`on`), or goes on.
#define HNY_PAUSE 6

// Another plan took over: what is told from here on goes by its ids.
#define HNY_PLAN 7

// A device came (`on`), or went away.
#define HNY_DEVICE 8

// A device was given to a seat, or taken from its seat (`seat` is 0).
#define HNY_SEAT 9

// The next step of a take was something that hands do; it was given to them.
#define HNY_STEP_INPUT 0

// It is a frame of the game: `hny_tick` at the time that was told.
#define HNY_STEP_TICK 1

// The take is over: `hny_stop`.
#define HNY_STEP_END 2

// What every call returns: `HNY_OK`, or why it did nothing.
typedef int32_t hny_status;

// A place in a text that has a fault, from 1; columns are characters. 0 where there is none.
typedef struct hny_place {
  // The line it begins in.
  uint32_t line;
  // The column it begins at.
  uint32_t column;
  // The line it ends in.
  uint32_t end_line;
  // The column behind its end.
  uint32_t end_column;
} hny_place;

// A profile that was read, with its plan.
typedef uint64_t hny_game;

// All players' hands on one plan.
typedef uint64_t hny_hands;

// A value: `x` of a switch (0 or 1) or axis, `x` and `y` of a plane, `x`, `y`, `z` of a space, all four of a
// turn (a unit quaternion; no rotation may be all 0).
typedef struct hny_vector {
  // The first component.
  double x;
  // The second component.
  double y;
  // The third component.
  double z;
  // The fourth component.
  double w;
} hny_vector;

// What a control of a device reports.
typedef struct hny_reported {
  // When, in nanoseconds.
  uint64_t at;
  // The control.
  uint32_t control;
  // Which device of its class, from 0 to 7, by the numbers of the hardware.
  uint32_t device;
  // Its value; of what is relative, what it moved by.
  struct hny_vector value;
} hny_reported;

// Everything about an action at a tick.
typedef struct hny_reading {
  // Its value, 0 at rest.
  struct hny_vector value;
  // The time since it woke, in nanoseconds; 0 at rest.
  uint64_t held;
  // The time since its first fire, or `HNY_NEVER`.
  uint64_t fired_for;
  // The share of the way to firing, 0 to 1.
  double progress;
  // How many times it fired in the last tick.
  uint32_t fired;
  // `HNY_AT_REST`, `HNY_PENDING` or `HNY_LIVE`.
  int32_t state;
  // Whether it woke in the last tick: 0 or 1.
  int32_t woke;
  // Whether an episode ended in the last tick: `HNY_LAPSE`, `HNY_REST`, or −1.
  int32_t ended;
  // Why it ended, for `hny_cause_word`, or −1.
  int32_t cause;
  // 0.
  int32_t reserved;
} hny_reading;

// A place of one's own in the stream of what is told: begin with all 0.
typedef struct hny_reader {
  // How many were taken.
  uint64_t seen;
  // How many were pushed out of the log, of 4,096, before they were taken.
  uint64_t missed;
} hny_reader;

// Something told. What a kind does not have is `HNY_NONE`, `HNY_NEVER`, −1 or 0.
typedef struct hny_told {
  // The exact moment, in nanoseconds.
  uint64_t at;
  // The tick at which the game sees it, from 1.
  uint64_t tick;
  // What happened: `HNY_WAKE` to `HNY_SEAT`.
  int32_t kind;
  // To which seat, from 1; 0 where it is nobody's, or everybody's.
  uint32_t seat;
  // The action.
  uint32_t action;
  // The cue that fired.
  uint32_t cue;
  // The binding that won last while away from 0.
  uint32_t from;
  // Why an episode ended, for `hny_cause_word`.
  int32_t cause;
  // The action's value at that moment.
  struct hny_vector value;
  // The time since the action woke.
  uint64_t held;
  // The time since its first fire.
  uint64_t fired_for;
  // Of a fire that was kept, since when.
  uint64_t since;
  // The share of the way to firing, 0 to 1.
  double progress;
  // The map.
  uint32_t map;
  // The scheme.
  uint32_t scheme;
  // The class of the device.
  uint32_t device_class;
  // The number of the device within its class, from 0, by the numbers of the hardware.
  uint32_t device;
  // Whether it opened, was paused, came: 0 or 1.
  int32_t on;
  // 0.
  int32_t reserved;
} hny_told;

// A control that was clearly meant.
typedef struct hny_caught {
  // The control, or `HNY_NONE` where nothing was meant yet.
  uint32_t control;
  // The number of its device, from 0.
  uint32_t device;
  // How far it went from where it had been.
  struct hny_vector way;
  // The buttons that went down before it and were still held, in that order, then `HNY_NONE`.
  uint32_t held[4];
} hny_caught;

// A take, step by step.
typedef uint64_t hny_replay;

#ifdef __cplusplus
extern "C" {
#endif // __cplusplus

// The version of this interface: it changes when a call or struct does.
uint32_t hny_version(void);

// Writes what the last call of this thread that returned something else than `HNY_OK` has to say, as UTF-8 with a 0
// behind it, and its length without that. A call of this one or of `hny_fault` changes nothing of it.
//
// # Safety
// `buffer` leads to `capacity` bytes, or is null if that is 0; `length` to a number, or is null.
hny_status hny_message(char *buffer,
                       size_t capacity,
                       size_t *length);

// The place of one fault of the text that the last such call of this thread was given, from 0 in order of place, and
// what is wrong there with what to write instead. `HNY_UNKNOWN` behind the last one.
//
// # Safety
// As with `hny_message`; `place` leads to a place, or is null.
hny_status hny_fault(size_t number,
                     struct hny_place *place,
                     char *buffer,
                     size_t capacity,
                     size_t *length);

// Reads a pack of `length` bytes: what `harmonym pack` writes. The game is a new handle, to be freed.
//
// # Safety
// `pack` leads to `length` bytes, `out` to a handle.
hny_status hny_game_unpack(const char *pack,
                           size_t length,
                           hny_game *out);

// Lets go of a game. Hands that were made of it stay.
hny_status hny_game_free(hny_game of);

// How many there are of something (`HNY_ACTION` …): ids go from 0 up to it.
//
// # Safety
// `out` leads to a number.
hny_status hny_count(hny_game of, int32_t what, uint32_t *out);

// The id of what is called so: `quay.walk`, `pad.left-stick`. Find ids once, before the game runs.
//
// The ids of actions, maps, schemes and numbers are those that `harmonym generate` writes: their place in the profile.
//
// # Safety
// `called` is a text that ends with a 0, `out` leads to an id.
hny_status hny_find(hny_game of,
                    int32_t what,
                    const char *called,
                    uint32_t *out);

// What something is called, with a 0 behind it; `length` is that without the 0.
//
// # Safety
// `buffer` leads to `capacity` bytes, or is null if that is 0; `length` to a number, or is null.
hny_status hny_name(hny_game of,
                    int32_t what,
                    uint32_t id,
                    char *buffer,
                    size_t capacity,
                    size_t *length);

// What an action gives: `HNY_SWITCH` to `HNY_TURN`.
//
// # Safety
// `out` leads to a number.
hny_status hny_kind(hny_game of, uint32_t id, int32_t *out);

// Whether names that `harmonym generate` wrote are those of this game: `digest` is their `NAMES`. `HNY_REFUSED` if they
// are stale.
//
// # Safety
// `digest` is a text that ends with a 0.
hny_status hny_expect_names(hny_game of,
                            const char *digest);

// Reads a profile of `length` bytes; `file` is what messages call it. The game is a new handle, to be freed.
//
// # Safety
// `file` is a text that ends with a 0, `profile` leads to `length` bytes, `out` to a handle.
hny_status hny_game_read(const char *file,
                         const char *profile,
                         size_t length,
                         hny_game *out);

// A profile that was read, for another keyboard layout (`us`, `fr`), which bindings of characters follow. A new handle.
//
// # Safety
// `layout` is a text that ends with a 0, `out` leads to a handle.
hny_status hny_game_for_layout(hny_game of,
                               const char *layout,
                               hny_game *out);

// A profile that was read as a player has it, whose file has `length` bytes. What of that does not fit is left out, and
// told by `hny_message` and `hny_fault`, though the call is `HNY_OK`; if nothing of it fits, it is refused. A new handle.
//
// # Safety
// `player` leads to `length` bytes, `out` to a handle.
hny_status hny_game_for_player(hny_game of,
                               const char *player,
                               size_t length,
                               hny_game *out);

// So many players' hands, 1 to 8, at time 0, on what the profile opens at first. A new handle, to be freed.
//
// # Safety
// `out` leads to a handle.
hny_status hny_hands_start(hny_game of,
                           uint32_t seats,
                           hny_hands *out);

// Back to time 0, as if new. Readers go on.
hny_status hny_restart(hny_hands of);

// Lets go of hands.
hny_status hny_hands_free(hny_hands of);

// Takes what a control of a device reports at `at`, in nanoseconds; `device` is its number within its class, from 0. A
// time before the present one counts as the present one; so in all calls.
//
// # Safety
// `value` leads to a value.
hny_status hny_report(hny_hands of,
                      uint64_t at,
                      uint32_t control,
                      uint32_t device,
                      const struct hny_vector *value);

// Takes so many reports, in order. At the first that is refused it stops; `done` tells how many were taken.
//
// # Safety
// `reports` leads to `count` reports, or is null if that is 0; `done` to a number, or is null.
hny_status hny_report_all(hny_hands of,
                          const struct hny_reported *reports,
                          size_t count,
                          size_t *done);

// One frame of the game, at `at`.
hny_status hny_tick(hny_hands of, uint64_t at);

// Goes on to `at` without a frame, through all that is due by then.
hny_status hny_advance(hny_hands of, uint64_t at);

// Ends what is still open, with cause `stopped`. Call it right after the last tick.
hny_status hny_stop(hny_hands of);

// An action's value at a seat, from 1: 0 at rest.
//
// # Safety
// `out` leads to a value.
hny_status hny_value(hny_hands of, uint32_t seat, uint32_t action, struct hny_vector *out);

// How many times an action fired in the last tick.
//
// # Safety
// `out` leads to a number.
hny_status hny_fired(hny_hands of, uint32_t seat, uint32_t action, uint32_t *out);

// Everything about an action.
//
// # Safety
// `out` leads to a reading.
hny_status hny_read(hny_hands of, uint32_t seat, uint32_t action, struct hny_reading *out);

// Everything about all actions of a seat, in the order of their ids: as many as there is room for, and `count` of
// all of them. Quicker than a call for each.
//
// # Safety
// `readings` leads to `capacity` readings, or is null if that is 0; `count` to a number.
hny_status hny_read_all(hny_hands of,
                        uint32_t seat,
                        struct hny_reading *readings,
                        size_t capacity,
                        size_t *count);

// The actions of a seat whose value at the last tick differs from that at the tick before, as many as there
// is room for, and `count` of all of them.
//
// # Safety
// `actions` leads to `capacity` ids, or is null if that is 0; `count` to a number.
hny_status hny_changed(hny_hands of,
                       uint32_t seat,
                       uint32_t *actions,
                       size_t capacity,
                       size_t *count);

// Takes what was told since a reader took it last, in order, as much as there is room for; `count` tells how much. Call it
// again while the buffer comes back full.
//
// # Safety
// `reader` leads to a reader, `told` to `capacity` entries (or is null if that is 0), `count` to a number.
hny_status hny_events(hny_hands of,
                      struct hny_reader *reader,
                      struct hny_told *told,
                      size_t capacity,
                      size_t *count);

// The game opens a map (`open` other than 0), or closes it, for one seat or for `HNY_ALL_SEATS`.
hny_status hny_set_open(hny_hands of, uint64_t at, uint32_t seat, uint32_t map, int32_t open);

// A setting or fact becomes `value` in its own unit, for one seat or for `HNY_ALL_SEATS`.
hny_status hny_set_number(hny_hands of, uint64_t at, uint32_t seat, uint32_t number, double value);

// The game narrows the bindings of one seat or of `HNY_ALL_SEATS` to those of one scheme, or with `HNY_NONE` lets
// all count.
hny_status hny_narrow(hny_hands of,
                      uint64_t at,
                      uint32_t seat,
                      uint32_t scheme);

// The game is paused (`paused` other than 0), or goes on.
hny_status hny_pause(hny_hands of, uint64_t at, int32_t paused);

// Whether a map is open at a seat: 0 or 1.
//
// # Safety
// `out` leads to a number.
hny_status hny_is_open(hny_hands of, uint32_t seat, uint32_t map, int32_t *out);

// The scheme in use at a seat, by the device that was used last, or `HNY_NONE`.
//
// # Safety
// `out` leads to an id.
hny_status hny_scheme_in_use(hny_hands of, uint32_t seat, uint32_t *out);

// What a setting or fact is worth at a seat, in its own unit; a switch is 1 or 0.
//
// # Safety
// `out` leads to a number.
hny_status hny_number(hny_hands of, uint32_t seat, uint32_t number, double *out);

// The word of a cause: `released`; null for what is none. It stays for as long as the library.
const char *hny_cause_word(int32_t cause);

// A device is there from now on (`plugged` other than 0), or goes away: by its class (`HNY_CLASS`) and its number from 0.
hny_status hny_plug(hny_hands of,
                    uint64_t at,
                    uint32_t class_,
                    uint32_t number,
                    int32_t plugged);

// A device is handed to a seat.
hny_status hny_give(hny_hands of, uint64_t at, uint32_t class_, uint32_t number, uint32_t seat);

// Whose a device is, also while it is not there; 0 if nobody's.
//
// # Safety
// `out` leads to a number.
hny_status hny_owner(hny_hands of, uint32_t class_, uint32_t number, uint32_t *out);

// A player leaves: what is held ends, and the devices are nobody's.
hny_status hny_leave(hny_hands of, uint64_t at, uint32_t seat);

// From now up to `until`, one device of nobody's joins by being pressed, and that press does nothing else.
hny_status hny_invite(hny_hands of,
                      uint64_t until);

// Devices of nobody's join by being pressed, as at first.
hny_status hny_join_freely(hny_hands of);

// From now on a control of a seat is caught for a screen on which controls are bound, of the kinds whose bits are set in
// `kinds`: 1 button, 2 lever, 4 axis, 8 stick, 16 relative, 32 spot, 64 place, 128 turn. What is caught does nothing else.
hny_status hny_catch(hny_hands of,
                     uint32_t seat,
                     uint32_t kinds);

// The control that was meant, once there is one; catching ends with it.
//
// # Safety
// `out` leads to one.
hny_status hny_caught_one(hny_hands of, struct hny_caught *out);

// Nothing is caught any more.
hny_status hny_stop_catching(hny_hands of);

// Another game's plan takes over: as another player has it, on another layout, of a newer version. What is the same
// in both goes on; other actions end with cause `rebound`.
hny_status hny_replan(hny_hands of,
                      uint64_t at,
                      hny_game to);

// Reads a take of `length` bytes; `file` is what messages call it. A new handle, to be freed.
//
// # Safety
// `file` is a text that ends with a 0, `take` leads to `length` bytes, `out` to a handle.
hny_status hny_replay_read(hny_game of,
                           const char *file,
                           const char *take,
                           size_t length,
                           hny_replay *out);

// Lets go of a take.
hny_status hny_replay_free(hny_replay of);

// Hands that begin as the take says. A new handle, to be freed.
//
// # Safety
// `out` leads to a handle.
hny_status hny_replay_hands(hny_replay of, hny_hands *out);

// The next step of a take: `HNY_STEP_INPUT`, which is given to the hands, `HNY_STEP_TICK` with the time for
// `hny_tick`, or `HNY_STEP_END`. Ticks come at the take's rate, and after its end until nothing is due any more.
//
// # Safety
// `step` and `tick` each lead to a number.
hny_status hny_replay_step(hny_replay of,
                           hny_hands to,
                           int32_t *step,
                           uint64_t *tick);

// The first line that `harmonym play --format json` prints of a take, with a 0 behind it.
//
// # Safety
// `buffer` leads to `capacity` bytes, or is null if that is 0; `length` to a number, or is null.
hny_status hny_replay_start_line(hny_replay of, char *buffer, size_t capacity, size_t *length);

// The last line of a take that is over.
//
// # Safety
// As with `hny_replay_start_line`.
hny_status hny_replay_end_line(hny_replay of, char *buffer, size_t capacity, size_t *length);

// Takes what was told since a reader took it last, as the lines that `harmonym play --format json` prints: whole ones,
// as many as there is room for. Call it again while `length` is not 0.
//
// # Safety
// `reader` leads to a reader, `buffer` to `capacity` bytes (or is null if that is 0), `length` to a number.
hny_status hny_event_lines(hny_hands of,
                           struct hny_reader *reader,
                           char *buffer,
                           size_t capacity,
                           size_t *length);

#ifdef __cplusplus
}  // extern "C"
#endif  // __cplusplus

#endif  /* HARMONYM_H */

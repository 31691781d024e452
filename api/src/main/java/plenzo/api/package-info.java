/**
 * Request and response records shared by service and client; no logic. Times are RFC 3339 in UTC,
 * durations seconds, sizes bytes.
 */
@NullMarked
package plenzo.api;

import org.jspecify.annotations.NullMarked;

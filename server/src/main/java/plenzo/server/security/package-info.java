/**
 * The one door: who is asking, from where, with what body; everything is refused that is not let
 * in.
 */
@org.jspecify.annotations.NullMarked
package plenzo.server.security;

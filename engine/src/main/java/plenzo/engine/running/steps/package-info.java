/**
 * What each step of a run does, and how it is undone: one class an act. Its words and its place in
 * the order are core's.
 */
@NullMarked
package plenzo.engine.running.steps;

import org.jspecify.annotations.NullMarked;

/**
 * The application host of the sample world: a small host of its own that holds rules, forms and
 * integrations, executes them, and serves the host protocol. It shares the protocol's messages with
 * Plenzo and nothing else.
 */
@NullMarked
package plenzo.standin;

import org.jspecify.annotations.NullMarked;

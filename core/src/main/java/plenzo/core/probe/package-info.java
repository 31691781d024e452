/** What is asked of a site before and after a run, and what the answers mean. */
@NullMarked
package plenzo.core.probe;

import org.jspecify.annotations.NullMarked;

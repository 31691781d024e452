/** What takes longer than a moment and is at work now: who does it and how far it is. */
@NullMarked
package plenzo.engine.underway;

import org.jspecify.annotations.NullMarked;

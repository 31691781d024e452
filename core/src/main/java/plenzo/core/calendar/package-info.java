/** When runs may start: windows and freezes of stages, and runs that are to start by themselves. */
@NullMarked
package plenzo.core.calendar;

import org.jspecify.annotations.NullMarked;

/** The sample world: Morrowick Ferries, made up, with real databases; and its story. */
@NullMarked
package plenzo.demo;

import org.jspecify.annotations.NullMarked;

/** What differs between two holders of an application, and how long that is known. */
@NullMarked
package plenzo.core.drift;

import org.jspecify.annotations.NullMarked;

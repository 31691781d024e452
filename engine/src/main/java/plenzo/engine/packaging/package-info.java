/** Versions as files: built, handed out, received, brought in; and the keys that sign them. */
@NullMarked
package plenzo.engine.packaging;

import org.jspecify.annotations.NullMarked;

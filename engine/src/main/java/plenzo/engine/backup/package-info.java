/** Backups as files, and reading them as what is incoming. */
@NullMarked
package plenzo.engine.backup;

import org.jspecify.annotations.NullMarked;

/** Git repositories as sources, read by JGit: objects alone. */
@NullMarked
package plenzo.connectors.git;

import org.jspecify.annotations.NullMarked;

/**
 * Directories of published files. A directory is a link to a tree, and a run exchanges the tree by
 * moving the link; or, in the mode "in-place", it exchanges file by file with a journal.
 */
@NullMarked
package plenzo.connectors.directory;

import org.jspecify.annotations.NullMarked;

/** The API over HTTP: access, problem details, one controller a subject. */
@NullMarked
package plenzo.server.web;

import org.jspecify.annotations.NullMarked;

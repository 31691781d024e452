/**
 * The steps that a plan may take: what each is called, what it does and undoes, and their order.
 */
@NullMarked
package plenzo.core.plan.step;

import org.jspecify.annotations.NullMarked;

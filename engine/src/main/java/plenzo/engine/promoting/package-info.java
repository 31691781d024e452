/** Promotions: preparing, findings, decisions, approvals and the plan. */
@NullMarked
package plenzo.engine.promoting;

import org.jspecify.annotations.NullMarked;

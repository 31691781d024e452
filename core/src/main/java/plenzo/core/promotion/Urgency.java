package plenzo.core.promotion;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * That a promotion is an emergency: who declared it and why.
 *
 * @param until by when the owed yes must come; null before its run was started
 */
public record Urgency(List<Said> said, @Nullable Instant until) {
  public static final Urgency NONE = new Urgency(List.of(), null);

  public Urgency {
    said = List.copyOf(said);
  }

  /** One person's word that it cannot wait. */
  public record Said(String by, Instant at, String reason) {}

  public boolean saidBy(String login) {
    return said.stream().anyMatch(s -> s.by().equals(login));
  }

  public Urgency and(Said one) {
    List<Said> all = new ArrayList<>(said);
    all.add(one);
    return new Urgency(all, until);
  }

  public Urgency begun(Instant owedUntil) {
    return new Urgency(said, owedUntil);
  }
}

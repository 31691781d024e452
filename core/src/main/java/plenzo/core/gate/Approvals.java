package plenzo.core.gate;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Leg;
import plenzo.core.words.Words;

/**
 * Enough people who may approve, and who did not prepare it, said yes to exactly this plan.
 *
 * @param expired how many yes count no more because they are too old
 */
public record Approvals(List<Part> parts, int expired) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          List<Leg.Quorum> asked = asked(c);
          return asked.isEmpty()
              ? Optional.empty()
              : Optional.of(
                  new Condition(
                      "approvals:"
                          + asked.stream().map(Approvals::code).collect(Collectors.joining("+"))
                          + (c.strangers().isEmpty() ? "" : ":" + c.strangers().size() + "x")
                          + (c.leg().approvalDays() == 0 ? "" : ":" + c.leg().approvalDays() + "d"),
                      asked.stream().map(Leg.Quorum::words).collect(Collectors.joining(" and "))
                          + ", of others than who prepared it"
                          + more(c)));
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          if (c.agreedBefore() || Rejected.JUDGE.open(c).isPresent()) {
            return Optional.empty();
          }
          Approvals found = found(c);
          return found.parts.stream().allMatch(p -> p.had() >= p.needed())
              ? Optional.empty()
              : Optional.of(found);
        }
      };

  public Approvals {
    parts = List.copyOf(parts);
  }

  /**
   * @param role empty for whoever may approve
   */
  public record Part(String role, int had, int needed) {}

  private static String code(Leg.Quorum q) {
    return q.role().isEmpty() ? String.valueOf(q.count()) : q.count() + "*" + q.role();
  }

  /** What the leg asks, and one more for each author of whom nobody knows who they are. */
  private static List<Leg.Quorum> asked(GateCase c) {
    List<Leg.Quorum> out = new ArrayList<>(c.leg().approvals());
    if (out.isEmpty() || c.strangers().isEmpty()) {
      return out;
    }
    int more = c.strangers().size();
    for (int i = 0; i < out.size(); i++) {
      if (out.get(i).role().isEmpty()) {
        out.set(i, new Leg.Quorum("", Math.min(Leg.Quorum.MOST, out.get(i).count() + more)));
        return out;
      }
    }
    out.add(new Leg.Quorum("", Math.min(Leg.Quorum.MOST, more)));
    return out;
  }

  private static String more(GateCase c) {
    return c.leg().approvals().isEmpty() || c.strangers().isEmpty()
        ? ""
        : "; "
            + Words.count(c.strangers().size(), "more approval")
            + " because nobody here is known to be "
            + String.join(" or ", c.strangers());
  }

  /** Each yes counts once, wherever it lets most be filled. */
  static Approvals found(GateCase c) {
    int days = c.leg().approvalDays();
    List<Promotion.Approval> said =
        c.promotion().approvals().stream()
            .filter(a -> a.counts() && c.approvers().containsKey(a.by()))
            .toList();
    List<String> people =
        said.stream()
            .filter(a -> days == 0 || a.at().plus(Duration.ofDays(days)).isAfter(c.now()))
            .map(Promotion.Approval::person)
            .distinct()
            .toList();
    long before = said.stream().map(Promotion.Approval::person).distinct().count();
    List<Leg.Quorum> asked = asked(c);
    Map<String, Set<String>> roles = new HashMap<>(c.approvers());
    // who stands in sits where the person would
    said.forEach(a -> roles.putIfAbsent(a.person(), roles.getOrDefault(a.by(), Set.of())));
    return new Approvals(filled(asked, people, roles), (int) before - people.size());
  }

  /** The largest assignment of people to what is asked, by ways of changing seats. */
  private static List<Part> filled(
      List<Leg.Quorum> asked, List<String> people, Map<String, Set<String>> roles) {
    List<List<String>> seats = new ArrayList<>();
    asked.forEach(q -> seats.add(new ArrayList<>()));
    for (String person : people) {
      seat(person, asked, seats, roles, new boolean[asked.size()]);
    }
    List<Part> out = new ArrayList<>();
    for (int i = 0; i < asked.size(); i++) {
      out.add(new Part(asked.get(i).role(), seats.get(i).size(), asked.get(i).count()));
    }
    return out;
  }

  private static boolean seat(
      String person,
      List<Leg.Quorum> asked,
      List<List<String>> seats,
      Map<String, Set<String>> roles,
      boolean[] tried) {
    for (int i = 0; i < asked.size(); i++) {
      String role = asked.get(i).role();
      if (tried[i] || !role.isEmpty() && !roles.getOrDefault(person, Set.of()).contains(role)) {
        continue;
      }
      tried[i] = true;
      List<String> sitting = seats.get(i);
      if (sitting.size() < asked.get(i).count()) {
        sitting.add(person);
        return true;
      }
      for (String other : List.copyOf(sitting)) {
        if (seat(other, asked, seats, roles, tried)) {
          sitting.remove(other);
          sitting.add(person);
          return true;
        }
      }
    }
    return false;
  }

  @Override
  public String code() {
    return "approvals";
  }

  @Override
  public String words() {
    return "approval "
        + parts.stream()
            .filter(p -> p.had() < p.needed())
            .map(p -> p.had() + " of " + p.needed() + (p.role().isEmpty() ? "" : " by " + p.role()))
            .collect(Collectors.joining(", "))
        + (expired == 0 ? "" : " (" + Words.count(expired, "approval") + " too old to count)");
  }

  @Override
  public Right mover() {
    return Right.APPROVE;
  }
}

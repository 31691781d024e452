package plenzo.engine.telling;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.CloudEvent;
import plenzo.core.telling.Delivery;
import plenzo.core.telling.Following;
import plenzo.core.telling.Letter;
import plenzo.core.telling.News;
import plenzo.core.telling.Webhook;
import plenzo.engine.Since;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.sealing.HookSignature;
import plenzo.engine.setup.Targets;

/**
 * What is on its way to addresses outside. Each entry of the history is told at least once to each
 * address that follows it, also over a restart; receivers tell repetitions by the event's id. One
 * that does not answer holds up no other.
 */
public final class Deliveries {
  private static final Duration WITHIN = Duration.ofSeconds(10);

  /** How long what was delivered is listed. */
  private static final Duration LISTED = Duration.ofDays(30);

  private final Tools tools;
  private final Targets targets;
  private final Since since = new Since("told until");

  /** Addresses that are being told something now, one thread each. */
  private final Set<String> busy = ConcurrentHashMap.newKeySet();

  public Deliveries(Tools tools, Targets targets) {
    this.tools = tools;
    this.targets = targets;
  }

  /** Newest first. */
  public List<Delivery> list(Person by, @Nullable String webhook) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    return tools.keeper().read(kept -> kept.deliveries().all()).stream()
        .filter(d -> webhook == null || d.webhook().equals(webhook))
        .toList();
  }

  /** Sends one again, whatever became of it. */
  public Delivery replay(Person by, long number) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Delivery d =
                  kept.deliveries()
                      .find(String.valueOf(number))
                      .orElseThrow(() -> Problem.notFound("delivery", "DV-" + number));
              Delivery next = d.again(tools.now());
              kept.deliveries().replace(next);
              return next;
            });
  }

  /** What the service does every few seconds. */
  public void goOn() {
    make();
    Map<String, List<Delivery>> due = new TreeMap<>();
    tools
        .keeper()
        .read(kept -> kept.deliveries().list(Kept.Filter.state(Delivery.State.WAITING.code())))
        .stream()
        .filter(d -> d.due(tools.now()))
        .sorted(Comparator.comparing(Delivery::number))
        // letters go one after the other, each address of its own beside them
        .forEach(
            d ->
                due.computeIfAbsent(
                        d.byMail() ? Delivery.MAIL : d.webhook(), w -> new ArrayList<>())
                    .add(d));
    due.forEach(
        (webhook, list) -> {
          if (busy.add(webhook)) {
            tools
                .background()
                .execute(
                    () -> {
                      try {
                        list.forEach(this::send);
                      } finally {
                        busy.remove(webhook);
                      }
                    });
          }
        });
  }

  /** Deliveries of what came to the history since, and how far that was, in one transaction. */
  private void make() {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              List<HistoryEntry> fresh = since.read(kept);
              if (fresh.isEmpty()) {
                return null;
              }
              List<Webhook> hooks = kept.webhooks().all();
              List<Following> followings =
                  kept.followings().all().stream().filter(f -> !f.mail().isEmpty()).toList();
              for (HistoryEntry e : fresh) {
                hooks.stream()
                    .filter(w -> w.wants(e))
                    .forEach(w -> add(kept, w.name(), e, tools.now()));
                followings.stream()
                    .filter(f -> f.wants(e) && mayKnow(f.login(), e))
                    .forEach(
                        f ->
                            add(
                                kept,
                                Delivery.MAIL + f.login(),
                                e,
                                f.sent(News.about(e.event()), tools.now())));
              }
              forget(kept);
              return null;
            });
  }

  private boolean mayKnow(String login, HistoryEntry e) {
    return tools.somebody(login).filter(p -> Notices.mayKnow(p, e)).isPresent();
  }

  /** Puts one on its way. */
  void add(Kept kept, String to, HistoryEntry e, Instant when) {
    kept.deliveries()
        .insert(
            new Delivery(
                kept.next("delivery"),
                to,
                e.sequence(),
                e.event(),
                Delivery.State.WAITING,
                0,
                when,
                "",
                tools.now(),
                0));
  }

  private void forget(Kept kept) {
    Instant oldest = tools.now().minus(LISTED);
    kept.deliveries().list(Kept.Filter.state(Delivery.State.DELIVERED.code())).stream()
        .filter(d -> d.made().isBefore(oldest))
        .forEach(d -> kept.deliveries().remove(String.valueOf(d.number())));
  }

  private void send(Delivery d) {
    if (d.byMail()) {
      letter(d, d.webhook().substring(Delivery.MAIL.length()));
    } else {
      call(d);
    }
  }

  /** What somebody may not look at any more, or does not want any more, is not sent. */
  private void letter(Delivery d, String login) {
    HistoryEntry e = entry(d);
    Following f = tools.keeper().read(kept -> kept.followings().find(login)).orElse(null);
    if (f == null || f.mail().isEmpty() || !mayKnow(login, e)) {
      end(d.givenUp(login + " is not told of this by mail any more"));
      return;
    }
    try {
      targets.mail(
          Letter.of(
              f.mail(), e, fingerprint(e), tools.mail().reachedAt(), tools.keeper().service()));
      end(d.delivered("taken " + tools.now()));
    } catch (TargetFailed | Problem x) {
      end(d.failed(tools.now(), String.valueOf(x.getMessage())));
    }
  }

  /** The plan of the case that it is about. */
  private @Nullable String fingerprint(HistoryEntry e) {
    return e.promotion() == null
        ? null
        : tools
            .keeper()
            .read(kept -> kept.promotions().find(String.valueOf(e.promotion())))
            .map(Promotion::plan)
            .map(plan -> plan.fingerprint().shown())
            .orElse(null);
  }

  private HistoryEntry entry(Delivery d) {
    return tools
        .keeper()
        .read(kept -> kept.history(Kept.HistoryFilter.part(d.entry() + 1, 1)))
        .get(0);
  }

  private void call(Delivery d) {
    Webhook w = tools.keeper().read(kept -> kept.webhooks().find(d.webhook())).orElse(null);
    if (w == null) {
      end(d.givenUp("There is no webhook " + d.webhook() + " any more"));
      return;
    }
    try {
      String body = body(d);
      String time = tools.now().toString();
      String secret =
          tools
              .keeper()
              .read(kept -> kept.secrets().find(Webhooks.id(w.name())))
              .map(s -> tools.vault().decrypt(s.id(), s.cipher()))
              .orElse("");
      targets.tell(
          w.address(),
          body,
          WITHIN,
          Map.of(
              "Content-Type",
              CloudEvent.TYPE,
              "Plenzo-Time",
              time,
              "Plenzo-Signature",
              HookSignature.of(secret, signed(time, body))));
      end(d.delivered("taken " + time));
    } catch (TargetFailed | Problem | IllegalArgumentException e) {
      end(d.failed(tools.now(), String.valueOf(e.getMessage())));
    }
  }

  /** What is signed: when it was sent, a line feed and the body. */
  static byte[] signed(String time, String body) {
    return (time + "\n" + body).getBytes(StandardCharsets.UTF_8);
  }

  private String body(Delivery d) {
    return CloudEvent.of(tools.keeper().service(), entry(d));
  }

  private void end(Delivery now) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              if (!kept.deliveries().update(now)) {
                return null; // somebody sends it anew
              }
              if (now.state() == Delivery.State.GIVEN_UP) {
                kept.note(
                    Event.of(
                        "plenzo",
                        Webhook.GIVEN_UP,
                        now.shown()
                            + " to "
                            + now.webhook()
                            + " ("
                            + now.event()
                            + "): "
                            + now.said()),
                    tools.now());
              }
              return null;
            });
  }
}

package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Addresses outside that are told what happens, as CloudEvents 1.0. */
public interface Tellings {
  /**
   * An address that is told.
   *
   * @param stages of which it is told; none: of all
   * @param applications of which it is told; none: of all
   * @param events of which it is told, such as "run done"; none: of all
   */
  record WebhookView(
      String name,
      String address,
      List<String> stages,
      List<String> applications,
      List<String> events,
      boolean active,
      String by,
      Instant at,
      int revision) {}

  /**
   * @param secret with which what it is told is signed; shown now and never again
   */
  record WebhookMade(WebhookView webhook, String secret) {}

  /**
   * @param active left out: yes
   * @param revision left out: of a new one
   */
  record SaveWebhook(
      String name,
      String address,
      @Nullable List<String> stages,
      @Nullable List<String> applications,
      @Nullable List<String> events,
      @Nullable Boolean active,
      @Nullable Integer revision) {}

  /**
   * One event on its way to one address.
   *
   * @param number "DV-9"
   * @param entry sequence of the history's entry, which is the event's id
   * @param state waiting, delivered or given-up
   * @param next when it is tried again; null when it is over
   * @param said what came of the last try
   */
  record DeliveryView(
      String number,
      String webhook,
      long entry,
      String event,
      String state,
      int tries,
      @Nullable Instant next,
      String said,
      Instant made) {}
}

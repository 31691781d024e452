package plenzo.e2e;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.concurrent.Flow;
import java.util.function.Consumer;
import plenzo.demo.Tokens;
import plenzo.demo.World;

/** A stream of the service's events as somebody of the sample world hears it. */
final class Events {
  private Events() {}

  /**
   * @param line takes each line
   * @param ended takes what broke the stream off
   */
  static void hear(
      HttpClient http,
      String address,
      String login,
      Consumer<String> line,
      Consumer<Throwable> ended) {
    String token = Tokens.make(address, login, World.PASSWORD);
    http.sendAsync(
        HttpRequest.newBuilder(URI.create(address + "/api/v1/events"))
            .header("Authorization", "Bearer " + token)
            .build(),
        HttpResponse.BodyHandlers.fromLineSubscriber(
            new Flow.Subscriber<String>() {
              @Override
              public void onSubscribe(Flow.Subscription s) {
                s.request(Long.MAX_VALUE);
              }

              @Override
              public void onNext(String next) {
                line.accept(next);
              }

              @Override
              public void onError(Throwable e) {
                ended.accept(e);
              }

              @Override
              public void onComplete() {}
            }));
  }
}
